import type { Encoder } from "@ukaza/contract/encoder";
import type { Settings, Source } from "@ukaza/contract/settings";
import { frameRateHz } from "../media/frameRate";
import { codecLevel, compareLevels } from "../media/levels";
import { demands, keptRates, type Lack, lacks, orientationOf } from "./abilities";
import { type Fault, faultsBy, type Say } from "./fault";
import { audioMend, channelsMend, nearestVideoBps, pictureMend, protocolMend, type Rules, sampleRateMend, videoMend } from "./resolve";

/** Settings against what the encoder can do. */
export function checkEncoder(s: Settings, encoder: Encoder, rules: Rules): Fault[] {
  const { faults, say } = faultsBy("encoder");
  const picture = () => pictureMend(s, rules);
  for (const lack of lacks(encoder, s, rules.source)) {
    const { field, is, wanted, clause } = lackSaid[lack](s, encoder, rules.source);
    say(lack, "blocks", field, is, wanted, clause, picture);
  }
  const video = () => videoMend(s, nearestVideoBps(s, rules));
  const ability = encoder.codecs.find((c) => c.codec === s.codec);
  const level = codecLevel(s);
  if (ability && level !== null && compareLevels(level, ability.maxLevel) > 0)
    say("encoder-level", "blocks", "videoBps", level, { oneOf: [ability.maxLevel] }, "codecs", () => video() ?? picture());
  const { min, max, step } = encoder.videoBps;
  const inRange = Math.min(Math.max(s.videoBps, min), max);
  const onStep = Math.floor(inRange / step) * step;
  if (inRange !== s.videoBps) say("encoder-bitrate", "blocks", "videoBps", s.videoBps, { min, max }, "videoBps", video);
  else if (onStep !== s.videoBps) say("encoder-step", "notes", "videoBps", s.videoBps, { oneOf: [onStep] }, "videoBps", video);
  checkSound(say, s, encoder, rules);
  checkWayOut(say, s, encoder, rules);
  return faults;
}

/** What a lack is found in, what there is, and what is wanted. */
type LackSaid = Pick<Fault, "field" | "is" | "wanted"> & { clause: string };

const lackSaid: Record<Lack, (s: Settings, encoder: Encoder, source?: Source) => LackSaid> = {
  "encoder-codec": (s, e) => ({ field: "codec", is: s.codec, wanted: { oneOf: e.codecs.map((c) => c.codec) }, clause: "codecs" }),
  "encoder-profile": (s, e) => ({
    field: "profile",
    is: s.profile,
    wanted: { oneOf: e.codecs.find((c) => c.codec === s.codec)?.profiles ?? [] },
    clause: "codecs",
  }),
  "encoder-size": (s, e) => ({ field: "width", is: sizeOf(s), wanted: { oneOf: [`${e.maxWidth}×${e.maxHeight}`] }, clause: "size" }),
  "encoder-size-list": (s, e) => ({ field: "width", is: sizeOf(s), wanted: { oneOf: (e.sizes ?? []).map(sizeOf) }, clause: "sizes" }),
  "encoder-orientation": (s, e) => ({ field: "width", is: orientationOf(s), wanted: { oneOf: e.orientations }, clause: "orientations" }),
  "encoder-frame-rate": (s, e) => ({ field: "frameRate", is: s.frameRate, wanted: { oneOf: e.frameRates ?? [] }, clause: "frameRates" }),
  "encoder-keeps-rate": (s, e, source) => ({
    field: "frameRate",
    is: s.frameRate,
    wanted: { oneOf: source ? keptRates(e, source) : [] },
    clause: "convertsFrameRate",
  }),
  "encoder-luma": (s, e) => ({
    field: "frameRate",
    is: Math.round(s.width * s.height * frameRateHz(s.frameRate)),
    wanted: { max: e.maxLumaPerS },
    clause: "maxLumaPerS",
  }),
};

const sizeOf = (p: { width: number; height: number }) => `${p.width}×${p.height}`;

function checkSound(say: Say, s: Settings, encoder: Encoder, rules: Rules): void {
  if (s.audioBps > encoder.audioMaxBps)
    say("encoder-audio", "blocks", "audioBps", s.audioBps, { max: encoder.audioMaxBps }, "audioMaxBps", () => audioMend(s, rules));
  if (!encoder.audioRatesHz.includes(s.audioHz))
    say("encoder-sample-rate", "blocks", "audioHz", s.audioHz, { oneOf: encoder.audioRatesHz }, "audioRatesHz", () =>
      sampleRateMend(s, rules),
    );
  if (s.audioChannels > encoder.audioChannelsMax)
    say("encoder-channels", "blocks", "audioChannels", s.audioChannels, { max: encoder.audioChannelsMax }, "audioChannelsMax", () =>
      channelsMend(s, rules),
    );
}

/** Protocol, what must be said over it, and keyframes where only the interval may place them. */
function checkWayOut(say: Say, s: Settings, encoder: Encoder, rules: Rules): void {
  const other = () => protocolMend(s, rules);
  if (!encoder.protocols.includes(s.protocol))
    say("encoder-protocol", "blocks", "protocol", s.protocol, { oneOf: encoder.protocols }, "protocols", other);
  else {
    const missing = demands(rules.sheet, s.protocol).filter((wanted) => !encoder.credentials.includes(wanted));
    for (const wanted of missing)
      say(`encoder-no-${wanted.replace(" ", "-")}`, "blocks", "protocol", s.protocol, { oneOf: [wanted] }, "credentials", other);
  }
  if (rules.sheet.keyframeFixed && encoder.keyframesAtCuts !== "never")
    say(
      encoder.keyframesAtCuts === "always" ? "keyframes-at-cuts" : "keyframes-at-cuts-off",
      encoder.keyframesAtCuts === "always" ? "risks" : "notes",
      "keyframeS",
      s.keyframeS,
      { oneOf: [s.keyframeS] },
      "keyframesAtCuts",
    );
}
