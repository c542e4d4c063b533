import type { Encoder } from "@ukaza/contract/encoder";
import { Refusal } from "@ukaza/contract/problem";
import { settings } from "@ukaza/contract/settings";
import type { EncoderHeld } from "@ukaza/contract/standins";

type Form = Record<string, string>;

/** Splits what was typed into one field: all up to the last slash is the address, the rest the key. */
export function splitTarget(typed: string): { address: string; key: string; protocol: string } {
  const match = /^((rtmps?|srt):\/\/\S+)\/([^/\s]+)$/.exec(typed.trim());
  if (!match)
    throw new Refusal(
      422,
      "target",
      "address and key cannot be read from what was typed",
      "Write address, a slash and the key, as rtmp://server/live/key.",
    );
  return { address: match[1] ?? "", key: match[3] ?? "", protocol: match[2] ?? "" };
}

/** The configuration that a person typed on the encoder's page. An output left empty stays as it was. */
export function typedConfig(kit: Encoder, held: EncoderHeld, form: Form): EncoderHeld {
  const feeds = { ...held.feeds };
  let protocol = held.engine.settings?.protocol ?? kit.protocols[0] ?? "rtmp";
  for (let i = 1; i <= kit.maxFeeds; i++) {
    const typed = (form[`target-${i}`] ?? "").trim();
    const uplinkId = form[`uplink-${i}`] ?? "";
    const id = `output-${i}`;
    if (typed !== "") {
      const target = splitTarget(typed);
      protocol = target.protocol as typeof protocol;
      const credentials = { login: null, passphrase: null, streamId: null, userAgent: null };
      feeds[id] = { address: target.address, key: target.key, uplinkId, credentials };
    } else if (feeds[id] && uplinkId !== "") feeds[id] = { ...feeds[id], uplinkId };
  }
  const [width, height] = (form.size ?? "").split("x").map(Number);
  const typed = settings.safeParse({
    codec: kit.codecs[0]?.codec,
    profile: form.profile,
    width,
    height,
    frameRate: form.frameRate,
    videoBps: Number(form.videoKbps) * 1e3,
    rateControl: form.rateControl,
    keyframeS: Number(form.keyframeS),
    bFrames: Number(form.bFrames),
    audioBps: Number(form.audioKbps) * 1e3,
    audioHz: kit.audioRatesHz[0],
    audioChannels: kit.audioChannelsMax,
    protocol,
  });
  if (!typed.success) {
    const [issue] = typed.error.issues;
    throw new Refusal(422, "not-valid", `${issue?.path.join(".")}: ${issue?.message}`, "Mend the field named.");
  }
  return { engine: { settings: typed.data }, feeds };
}
