import type { Finding } from "@ukaza/contract/findings";
import type { Settings } from "@ukaza/contract/settings";
import { frameRateText, rateText } from "./units";

/** What a field of the settings is called. */
export const fieldWord: Record<keyof Settings, string> = {
  codec: "Codec",
  profile: "Profile",
  width: "Width",
  height: "Height",
  frameRate: "Frame rate",
  videoBps: "Video bitrate",
  rateControl: "Rate control",
  keyframeS: "Keyframe interval",
  bFrames: "B-frames",
  audioBps: "Audio bitrate",
  audioHz: "Sample rate",
  audioChannels: "Audio channels",
  protocol: "Protocol",
};

/** A setting's value with its unit. */
export function valueText(field: keyof Settings, value: unknown): string {
  if (typeof value === "number") {
    if (field === "videoBps" || field === "audioBps") return rateText(value);
    if (field === "keyframeS") return `${value} s`;
    if (field === "audioHz") return `${value / 1000} kHz`;
  }
  if (field === "frameRate" && typeof value === "string") return frameRateText(value);
  if (value === "h264") return "H.264";
  if (value === "h265") return "H.265";
  if (value === "av1") return "AV1";
  if (field === "protocol") return String(value).toUpperCase();
  return String(value).replace("capped-variable", "capped variable");
}

const readOut: (keyof Settings)[] = [
  "codec",
  "profile",
  "frameRate",
  "videoBps",
  "rateControl",
  "keyframeS",
  "bFrames",
  "audioBps",
  "audioHz",
  "audioChannels",
  "protocol",
];

/** All settings in the order in which they are read out. */
export const settingsRows = (s: Settings): [label: string, text: string][] => [
  ["Size", `${s.width}×${s.height}`],
  ...readOut.map((field): [string, string] => [fieldWord[field], valueText(field, s[field])]),
];

const wantedText = (f: Finding): string => {
  const { min, max, oneOf } = f.wanted;
  const show = (v: unknown) => valueText(f.field, v);
  if (oneOf) return [...new Set(oneOf.map(show))].join(", ");
  if (min !== undefined && max !== undefined) return `${show(min)} to ${show(max)}`;
  return min !== undefined ? `at least ${show(min)}` : `at most ${show(max)}`;
};

/** What is, and why it matters. The mend has its own button. */
const sentences: Record<string, (f: Finding) => string> = {
  "size-not-taken": (f) => `${f.is} is not a size this platform takes. It takes ${wantedText(f)}.`,
  "size-not-multiple": (f) => `${f.is}: each side must be a multiple of ${f.wanted.oneOf?.[0]} pixels, or the encoder refuses or crops it.`,
  "codec-not-taken": (f) => `The platform does not take ${valueText("codec", f.is)} at this size; it takes ${wantedText(f)}.`,
  "frame-rate-not-taken": (f) => `${valueText("frameRate", f.is)} is not taken at this size. Taken are ${wantedText(f)}.`,
  "profile-not-taken": (f) => `The profile ${f.is} is not taken; ${wantedText(f)} is.`,
  "video-over-max": (f) =>
    `${rateText(Number(f.is))} is over the platform's maximum of ${rateText(f.wanted.max ?? 0)} for this size and rate; the stream would be refused.`,
  "video-under-min": (f) =>
    `${rateText(Number(f.is))} is under the platform's minimum of ${rateText(f.wanted.min ?? 0)} for this size and rate.`,
  "video-over-recommended": (f) =>
    `${rateText(Number(f.is))} is above the recommended ${rateText(f.wanted.max ?? 0)}. It is taken, but gains little and loads the line.`,
  "level-over-max": (f) => `These settings need level ${f.is} of the codec; the platform takes ${wantedText(f)} at most.`,
  "rate-control-not-taken": (f) => `Rate control is ${valueText("rateControl", f.is)}; the platform wants ${wantedText(f)}.`,
  "keyframe-outside": (f) => `A keyframe every ${f.is} s is outside the platform's ${wantedText(f)}.`,
  "keyframe-not-whole": (f) => `The keyframe interval is not a whole number of frames; the encoder will use ${f.wanted.oneOf?.[0]} frames.`,
  "b-frames-over": (f) => `${f.is} B-frames are more than the ${f.wanted.max} that the platform takes.`,
  "b-frames-in-baseline": () => "The baseline profile has no B-frames.",
  "protocol-not-taken": (f) => `The platform does not take ${String(f.is).toUpperCase()}; it takes ${wantedText(f)}.`,
  "audio-over-max": (f) => `Audio at ${rateText(Number(f.is))} is over the platform's maximum of ${rateText(f.wanted.max ?? 0)}.`,
  "audio-under-min": (f) => `Audio at ${rateText(Number(f.is))} is under the platform's minimum of ${rateText(f.wanted.min ?? 0)}.`,
  "sample-rate-not-taken": (f) => `A sample rate of ${valueText("audioHz", f.is)} is not taken; ${wantedText(f)} is.`,
  "channels-over-max": (f) => `${f.is} audio channels are more than the ${f.wanted.max} that the platform takes.`,
  "encoder-codec": (f) => `The encoder cannot make ${valueText("codec", f.is)}; it makes ${wantedText(f)}.`,
  "encoder-profile": (f) => `The encoder cannot make the profile ${f.is}; it makes ${wantedText(f)}.`,
  "encoder-level": (f) => `These settings need level ${f.is} of the codec; the encoder reaches ${wantedText(f)}.`,
  "encoder-size": (f) => `${f.is} is larger than the encoder's ${wantedText(f)}.`,
  "no-level": (f) => `No level of the codec's standard holds ${f.is} at this rate and bitrate; players need not open it.`,
  "codec-over-rtmp": (f) =>
    `${String(f.is).toUpperCase()} as first written down carries H.264 only; whether the server takes another codec over it, only a test tells.`,
  "encoder-size-list": (f) => `The encoder does not make ${f.is}; it makes ${wantedText(f)}.`,
  "encoder-orientation": (f) => `The encoder makes no ${f.is} pictures, only ${wantedText(f)}.`,
  "encoder-frame-rate": (f) => `The encoder does not make ${valueText("frameRate", f.is)}; it makes ${wantedText(f)}.`,
  "encoder-keeps-rate": (f) =>
    `The encoder sends the rate that comes in and makes no other: ${(f.wanted.oneOf ?? []).map((hz) => Number(Number(hz).toFixed(2))).join(" or ")} frames/s, not ${valueText("frameRate", f.is)}.`,
  "encoder-sample-rate": (f) => `The encoder has no sample rate of ${valueText("audioHz", f.is)}; it has ${wantedText(f)}.`,
  "encoder-channels": (f) => `${f.is} audio channels are more than the encoder's ${f.wanted.max}.`,
  "encoder-no-login": (f) =>
    `The platform wants a user name and password over ${String(f.is).toUpperCase()}; this encoder has no fields for them.`,
  "encoder-no-stream-id": (f) => `The platform wants a stream ID over ${String(f.is).toUpperCase()}; this encoder cannot give one.`,
  "encoder-no-passphrase": (f) => `The platform wants a passphrase over ${String(f.is).toUpperCase()}; this encoder cannot give one.`,
  "encoder-no-user-agent": () => "The platform lets in only senders that call themselves as it says; this encoder's name cannot be set.",
  "keyframes-at-cuts": () => "The platform wants keyframes at the interval only; this encoder adds one at every cut of the picture.",
  "keyframes-at-cuts-off": () => "The platform wants keyframes at the interval only: switch off keyframes at cuts on the encoder.",
  "no-input": (f) => `None of the encoder's inputs (${wantedText(f)}) is known to take the camera's ${f.is}.`,
  "encoder-luma": (f) =>
    `${(Number(f.is) / 1e6).toFixed(0)} million pixels a second are more than the encoder's ${((f.wanted.max ?? 0) / 1e6).toFixed(0)} million.`,
  "encoder-bitrate": (f) => `${rateText(Number(f.is))} is outside the encoder's ${wantedText(f)}.`,
  "encoder-step": (f) => `The encoder sets bitrates in steps; it would use ${wantedText(f)}.`,
  "encoder-audio": (f) => `Audio at ${rateText(Number(f.is))} is more than the encoder's ${rateText(f.wanted.max ?? 0)}.`,
  "encoder-protocol": (f) => `The encoder does not send ${String(f.is).toUpperCase()}; it sends ${wantedText(f)}.`,
  cadence: (f) => `${valueText("frameRate", f.is)} does not go evenly into the camera's ${wantedText(f)}: movement will judder.`,
  "faster-than-source": (f) => `${valueText("frameRate", f.is)} is faster than the camera gives; the added frames are copies.`,
  "larger-than-source": (f) => `${f.is} is larger than the camera's ${wantedText(f)}; the added pixels carry no detail.`,
  interlaced: () => "The camera gives interlaced fields; the encoder makes whole pictures of them, at up to twice the frame rate.",
  "interlaced-not-mended": () =>
    "The camera gives interlaced fields and this encoder leaves them as they are: moving edges will show combs.",
  orientation: (f) => `${f.is} stands across the camera's ${wantedText(f)}: most of the picture would be cut away or framed in black.`,
  "more-than-needed": (f) =>
    `${rateText(Number(f.is))} is more than this size and rate show; above ${rateText(f.wanted.max ?? 0)} nothing is gained.`,
  aspect: (f) => `${f.is} has another shape than the camera's ${wantedText(f)}: bars or a crop will show.`,
  "load-over-line": (f) =>
    `These settings load the line with ${rateText(Number(f.is))}; it can use ${rateText(f.wanted.max ?? 0)}. The stream would stall.`,
};

export function findingSentence(f: Finding): string {
  return sentences[f.code]?.(f) ?? `${fieldWord[f.field]}: ${f.is}; wanted ${wantedText(f)}.`;
}

/** What the mend would do, for its button. */
export function mendText(f: Finding): string | null {
  if (!f.mend) return null;
  const { width, height, ...rest } = f.mend;
  const parts = Object.entries(rest).map(
    ([field, value]) => `${fieldWord[field as keyof Settings].toLowerCase()} ${valueText(field as keyof Settings, value)}`,
  );
  return `Set ${[...(width && height ? [`${width}×${height}`] : []), ...parts].join(", ")}`;
}

export const levelWord: Record<Finding["level"], string> = { blocks: "Blocks", risks: "Risks", notes: "Note" };

const byWord: Record<Finding["rule"]["by"], string> = {
  sheet: "Rule sheet",
  encoder: "Encoder",
  source: "Camera",
  uplink: "Line",
  standard: "Standard",
  "rule of thumb": "Rule of thumb",
};
export const ruleText = (f: Finding): string =>
  `${byWord[f.rule.by]}: ${f.rule.clause.replace(/([A-Z])/g, (c) => (f.rule.by === "standard" ? c : ` ${c.toLowerCase()}`)).trim()}`;
