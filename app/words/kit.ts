import type { Encoder } from "@ukaza/contract/encoder";
import type { DoubleBooking, KitUse } from "@ukaza/contract/kit";
import { dataText, dayText, frameRateText, rateText, sizeText, timeText } from "./units";

/** How address and key come into an encoder. */
export const setByWord: Record<Encoder["setBy"], string> = {
  "one field": "One field",
  "two fields": "Two fields",
  "settings file": "A settings file",
  code: "A code, approved here",
  remote: "Remote control",
};

const codecWord = { h264: "H.264", h265: "H.265", av1: "AV1" } as const;
const yes = (b: boolean) => (b ? "yes" : "no");
const list = (values: readonly string[], none = "none") => (values.length > 0 ? values.join(", ") : none);

const reachText = (r: Encoder["reach"]) =>
  r.driver === "standin" ? "a stand-in on this machine" : r.driver === "http" ? `by ${r.address}` : "by hand; nothing reaches it from here";

/** An encoder in one line, for a list of them. */
export const encoderSummary = (e: Encoder): string =>
  `${e.kind.charAt(0).toUpperCase()}${e.kind.slice(1)}, ${e.engines === 1 ? "1 engine" : `${e.engines} engines`}, up to ${e.maxWidth}×${e.maxHeight}, ${e.codecs.map((c) => codecWord[c.codec]).join(", ")}`;

/** Everything that is known of an encoder, in the order in which a crew asks. */
export function encoderFacts(e: Encoder): [label: string, text: string][] {
  return [
    ["Kind", e.kind],
    ["Serial number", e.serial || "not noted"],
    ["Engines", String(e.engines)],
    ["Feeds at once", String(e.maxFeeds)],
    ["Codecs", e.codecs.map((c) => `${codecWord[c.codec]} ${c.profiles.join(", ")} to level ${c.maxLevel}`).join("; ")],
    ["Sizes", e.sizes ? e.sizes.map(sizeText).join(", ") : `any up to ${e.maxWidth}×${e.maxHeight}`],
    ["Frame rates", e.frameRates ? e.frameRates.map((r) => frameRateText(r).replace(" frames/s", "")).join(", ") : "any"],
    ["Pictures", `${e.orientations.join(" and ")}, each side a multiple of ${e.sizeMultiple}`],
    ["All engines together", `${(e.maxLumaPerS / 1e6).toFixed(0)} million pixels a second`],
    ["Video bitrate", `${rateText(e.videoBps.min)} to ${rateText(e.videoBps.max)} in steps of ${rateText(e.videoBps.step)}`],
    [
      "Audio",
      `to ${rateText(e.audioMaxBps)}, ${e.audioRatesHz.map((hz) => `${hz / 1e3} kHz`).join(" or ")}, ${e.audioChannelsMax === 1 ? "1 channel" : `${e.audioChannelsMax} channels`}`,
    ],
    ["Keyframes at cuts", e.keyframesAtCuts === "choice" ? "can be switched off" : e.keyframesAtCuts],
    ["Protocols", e.protocols.map((p) => p.toUpperCase()).join(", ")],
    ["Can also say", list(e.credentials.map((c) => (c === "login" ? "user name and password" : c)))],
    [
      "Inputs",
      list(
        e.inputs.map((i) => `${i.connector}${i.signals.length > 0 ? ` (${i.signals.map(signalText).join("; ")})` : ""}`),
        "not noted",
      ),
    ],
    ["Interlaced cameras", e.deinterlaces ? "made whole" : "left as they are"],
    ["Converts frame rates", yes(e.convertsFrameRate)],
    ["Address and key by", setByWord[e.setBy].toLowerCase()],
    ["Presets", list(e.presets.map((p) => p.name))],
    [
      "Records to",
      list(
        e.recordings.map(
          (r) => `${r.name} (${dataText(r.freeBytes)} free${r.maxFileBytes ? `, files to ${dataText(r.maxFileBytes)}` : ""})`,
        ),
      ),
    ],
    [
      "Network",
      list(
        e.network.map((n) => `${n.name} (${n.kind})`),
        "not noted",
      ),
    ],
    ["Reached", reachText(e.reach)],
  ];
}

const signalText = (s: Encoder["inputs"][number]["signals"][number]) =>
  `${sizeText(s)} ${s.scan === "interlaced" ? "interlaced" : "progressive"} at ${s.frameRates.map((r) => frameRateText(r).replace(" frames/s", "")).join(", ")}`;

/** A claim on an encoder, on the clock of its own place. */
export const claimText = (use: KitUse): string =>
  `${use.eventName} at ${use.venueName}, ${dayText(use.from, use.timeZone)}, ${timeText(use.from, use.timeZone)} to ${timeText(use.until, use.timeZone)}`;

export const doubleText = (d: DoubleBooking): string =>
  `Wanted twice on ${dayText(d.from, d.a.timeZone)}, ${timeText(d.from, d.a.timeZone)} to ${timeText(d.until, d.a.timeZone)}: ${d.a.eventName} and ${d.b.eventName}.`;
