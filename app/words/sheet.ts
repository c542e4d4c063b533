import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import { frameRateHz } from "@ukaza/core/media/frameRate";
import { dataText, frameRateText, rateText, sizeText } from "./units";

const yes = (b: boolean) => (b ? "yes" : "no");
const list = (values: readonly string[]) => (values.length > 0 ? [...new Set(values)].join(", ") : "none");
const codecWord = { h264: "H.264", h265: "H.265", av1: "AV1" } as const;
const keyWord: Record<RuleSheet["keyLife"], string> = {
  lasting: "lasting",
  "one-broadcast": "for one broadcast",
  "dies-on-stop": "dies when sending stops",
};

/** One thing that a rule sheet says, and how it is said of a sheet. */
export interface Attribute {
  id: string;
  word: string;
  say: (sheet: RuleSheet) => string;
}

const largest = (s: RuleSheet) => s.modes.reduce((top, m) => (m.width * m.height > top.width * top.height ? m : top));
const fastest = (s: RuleSheet) =>
  s.modes.flatMap((m) => m.frameRates).reduce((top, rate) => (frameRateHz(rate) > frameRateHz(top) ? rate : top));

/** Everything in which sheets differ, in the order in which a crew asks. */
export const attributes: readonly Attribute[] = [
  { id: "largest", word: "Largest picture", say: (s) => sizeText(largest(s)) },
  { id: "rates", word: "Fastest", say: (s) => frameRateText(fastest(s)) },
  { id: "codecs", word: "Codecs", say: (s) => list(s.modes.map((m) => codecWord[m.codec])) },
  { id: "video", word: "Video at most", say: (s) => rateText(Math.max(...s.modes.map((m) => m.maxBps))) },
  { id: "control", word: "Rate control", say: (s) => list(s.rateControls.map((c) => c.replace("-", " "))) },
  {
    id: "keyframe",
    word: "Keyframe interval",
    say: (s) => `${s.keyframe.minS} to ${s.keyframe.maxS} s, recommended ${s.keyframe.recommendedS} s${s.keyframeFixed ? ", fixed" : ""}`,
  },
  { id: "bframes", word: "B-frames", say: (s) => (s.bFramesMax === 0 ? "none" : `at most ${s.bFramesMax}`) },
  {
    id: "audio",
    word: "Audio",
    say: (s) =>
      `${rateText(s.audio.minBps)} to ${rateText(s.audio.maxBps)}${s.audio.recommendedBps ? `, recommended ${rateText(s.audio.recommendedBps)}` : ""}, ${s.audio.sampleRatesHz.map((hz) => `${hz / 1000} kHz`).join(" or ")}, ${s.audio.channelsMax} channels`,
  },
  {
    id: "protocols",
    word: "Protocols",
    say: (s) =>
      list([
        ...s.protocols.map((p) => `${p.protocol.toUpperCase()} (port ${[p.defaultPort, ...p.otherPorts].join(" or ")})`),
        ...s.alsoTakes.map((w) => (w === "whip" ? "WHIP" : "HLS push")),
      ]),
  },
  {
    id: "login",
    word: "User name and password",
    say: (s) => list(s.protocols.filter((p) => p.login !== "none").map((p) => `${p.login} for ${p.protocol.toUpperCase()}`)),
  },
  {
    id: "joined",
    word: "Address and key",
    say: (s) =>
      list(
        s.protocols.map((p) => {
          const how = p.streamId ? `stream ID ${p.streamId}` : p.separator ? `joined by "${p.separator}"` : "given apart";
          return `${p.protocol.toUpperCase()}: ${how}${p.passphrase === "none" ? "" : `, passphrase ${p.passphrase}`}${p.userAgent ? `, must call itself "${p.userAgent}"` : ""}`;
        }),
      ),
  },
  {
    id: "renditions",
    word: "Renditions",
    say: (s) =>
      s.renditionsMax > 1 ? `up to ${s.renditionsMax}, keys ending in ${list(s.protocols.flatMap((p) => p.renditionSuffix ?? []))}` : "one",
  },
  {
    id: "backup",
    word: "Backup ingest",
    say: (s) => (s.backupIngest ? `yes, ${s.backupSameSettings ? "with the same settings" : "settings of its own allowed"}` : "no"),
  },
  { id: "regions", word: "Regions", say: (s) => (s.regions.length > 0 ? list(s.regions.map((r) => r.name)) : "one place") },
  { id: "transcodes", word: "Makes smaller sizes itself", say: (s) => yes(s.transcodes) },
  { id: "key", word: "Stream key", say: (s) => `${keyWord[s.keyLife]}${s.lastingKeyOnRequest ? "; a lasting one can be asked for" : ""}` },
  {
    id: "preview",
    word: "Preview",
    say: (s) => (s.lifecycle.preview ? `after about ${s.lifecycle.preview.typicalS} s, at most ${s.lifecycle.preview.longestS} s` : "none"),
  },
  {
    id: "oneway",
    word: "Cannot be taken back",
    say: (s) => list([...(s.lifecycle.publicIrreversible ? ["going public"] : []), ...(s.lifecycle.endIrreversible ? ["ending"] : [])]),
  },
  { id: "freezes", word: "Freezes", say: (s) => list(s.lifecycle.freezes.map((f) => `${f.fields.join(", ")} at ${f.at}`)) },
  { id: "ends", word: "Ends first", say: (s) => (s.lifecycle.endsFirst === "platform" ? "on the platform" : "at the encoder") },
  { id: "latency", word: "Delay to viewers", say: (s) => list(s.latencyModes.map((l) => `${l.name} ${l.delayS} s`)) },
  {
    id: "listing",
    word: "Listing",
    say: (s) =>
      s.listing
        ? `title to ${s.listing.titleMax} signs, description to ${s.listing.descriptionMax}${s.listing.picture ? `, picture ${s.listing.picture.aspect} from ${s.listing.picture.minWidth}×${s.listing.picture.minHeight}, ${dataText(s.listing.picture.maxBytes)} at most, ${s.listing.picture.types.join(" or ")}` : ""}`
        : "none",
  },
  { id: "price", word: "Price", say: (s) => (s.pricePerHour === null ? "none" : `${s.pricePerHour} an hour until the last feed stops`) },
];

/** A sheet in one line, for a list of them. */
export function sheetSummary(s: RuleSheet): string {
  const ways = s.protocols.map((p) => p.protocol.toUpperCase()).join(", ");
  const up = s.openModes ? "Takes any picture; suggests up to" : "Up to";
  return `${up} ${sizeText(largest(s))} and ${frameRateText(fastest(s))}, ${rateText(Math.max(...s.modes.map((m) => m.maxBps)))}, over ${ways}.`;
}

/** A question to the whole book: who takes this? */
export const questions: readonly { id: string; word: string; takes: (s: RuleSheet) => boolean }[] = [
  { id: "fifty", word: "50 frames/s", takes: (s) => s.modes.some((m) => m.frameRates.includes("50")) },
  { id: "full", word: "1920×1080", takes: (s) => s.modes.some((m) => m.width === 1920 && m.height === 1080) },
  { id: "portrait", word: "Portrait", takes: (s) => s.modes.some((m) => m.height > m.width) },
  { id: "h265", word: "H.265", takes: (s) => s.modes.some((m) => m.codec === "h265") },
  { id: "srt", word: "SRT", takes: (s) => s.protocols.some((p) => p.protocol === "srt") },
  { id: "backup", word: "Backup ingest", takes: (s) => s.backupIngest },
  { id: "preview", word: "Preview", takes: (s) => s.lifecycle.preview !== null },
];
