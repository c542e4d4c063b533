import type { Settings } from "@ukaza/contract/settings";
import { frameRateHz } from "../media/frameRate";
import { type Fault, faultsBy } from "./fault";
import { audioMend, channelsMend, keyframeMend, protocolMend, type Rules, sampleRateMend } from "./resolve";

/** Rate control, keyframe interval, B-frames and protocol against a rule sheet. */
export function checkStream(s: Settings, rules: Rules): Fault[] {
  const { faults, say } = faultsBy("sheet");
  const { sheet } = rules;
  const { keyframe } = sheet;
  if (!sheet.rateControls.includes(s.rateControl))
    say("rate-control-not-taken", "blocks", "rateControl", s.rateControl, { oneOf: sheet.rateControls }, "rateControls", () => ({
      rateControl: sheet.rateControls[0],
    }));
  if (s.keyframeS < keyframe.minS || s.keyframeS > keyframe.maxS)
    say("keyframe-outside", "blocks", "keyframeS", s.keyframeS, { min: keyframe.minS, max: keyframe.maxS }, "keyframe", () => ({
      keyframeS: keyframe.recommendedS,
    }));
  else {
    const frames = s.keyframeS * frameRateHz(s.frameRate);
    if (Math.abs(frames - Math.round(frames)) > 0.05)
      faults.push({
        code: "keyframe-not-whole",
        level: "notes",
        field: "keyframeS",
        is: s.keyframeS,
        wanted: { oneOf: [Math.round(frames)] },
        rule: { by: "rule of thumb", clause: "whole frames between keyframes" },
        mend: () => keyframeMend(s, rules),
      });
  }
  if (s.bFrames > sheet.bFramesMax)
    say("b-frames-over", "blocks", "bFrames", s.bFrames, { max: sheet.bFramesMax }, "bFramesMax", () => ({
      bFrames: s.profile === "baseline" ? 0 : sheet.bFramesMax,
    }));
  if (s.profile === "baseline" && s.bFrames > 0)
    faults.push({
      code: "b-frames-in-baseline",
      level: "blocks",
      field: "bFrames",
      is: s.bFrames,
      wanted: { max: 0 },
      rule: { by: "standard", clause: "H.264 A.2.1" },
      mend: () => ({ bFrames: 0 }),
    });
  const protocols = sheet.protocols.map((p) => p.protocol);
  if (!protocols.includes(s.protocol))
    say("protocol-not-taken", "blocks", "protocol", s.protocol, { oneOf: protocols }, "protocols", () => protocolMend(s, rules));
  return faults;
}

/** Audio bitrate, sample rate and channels against a rule sheet. */
export function checkAudio(s: Settings, rules: Rules): Fault[] {
  const { audio } = rules.sheet;
  const { faults, say } = faultsBy("sheet");
  const bitrate = () => audioMend(s, rules);
  if (s.audioBps > audio.maxBps) say("audio-over-max", "blocks", "audioBps", s.audioBps, { max: audio.maxBps }, "audio", bitrate);
  else if (s.audioBps < audio.minBps) say("audio-under-min", "blocks", "audioBps", s.audioBps, { min: audio.minBps }, "audio", bitrate);
  if (!audio.sampleRatesHz.includes(s.audioHz))
    say("sample-rate-not-taken", "blocks", "audioHz", s.audioHz, { oneOf: audio.sampleRatesHz }, "audio", () => sampleRateMend(s, rules));
  if (s.audioChannels > audio.channelsMax)
    say("channels-over-max", "blocks", "audioChannels", s.audioChannels, { max: audio.channelsMax }, "audio", () => channelsMend(s, rules));
  return faults;
}
