import type { Finding } from "@ukaza/contract/findings";
import type { Settings } from "@ukaza/contract/settings";
import { frameRateHz } from "../media/frameRate";
import { audioMend, keyframeMend, protocolMend, type Rules } from "./resolve";

const at = (clause: string) => ({ by: "sheet" as const, clause });

/** Rate control, keyframe interval, B-frames and protocol against a rule sheet. */
export function checkStream(s: Settings, rules: Rules): Finding[] {
  const findings: Finding[] = [];
  const { sheet } = rules;
  const { keyframe } = sheet;
  if (!sheet.rateControls.includes(s.rateControl)) {
    findings.push({
      code: "rate-control-not-taken",
      level: "blocks",
      field: "rateControl",
      is: s.rateControl,
      wanted: { oneOf: sheet.rateControls },
      rule: at("rateControls"),
      mend: { rateControl: sheet.rateControls[0] },
    });
  }
  if (s.keyframeS < keyframe.minS || s.keyframeS > keyframe.maxS) {
    findings.push({
      code: "keyframe-outside",
      level: "blocks",
      field: "keyframeS",
      is: s.keyframeS,
      wanted: { min: keyframe.minS, max: keyframe.maxS },
      rule: at("keyframe"),
      mend: { keyframeS: keyframe.recommendedS },
    });
  } else {
    const frames = s.keyframeS * frameRateHz(s.frameRate);
    if (Math.abs(frames - Math.round(frames)) > 0.05) {
      findings.push({
        code: "keyframe-not-whole",
        level: "notes",
        field: "keyframeS",
        is: s.keyframeS,
        wanted: { oneOf: [Math.round(frames)] },
        rule: { by: "rule of thumb", clause: "whole frames between keyframes" },
        mend: keyframeMend(s, rules),
      });
    }
  }
  if (s.bFrames > sheet.bFramesMax) {
    findings.push({
      code: "b-frames-over",
      level: "blocks",
      field: "bFrames",
      is: s.bFrames,
      wanted: { max: sheet.bFramesMax },
      rule: at("bFramesMax"),
      mend: { bFrames: s.profile === "baseline" ? 0 : sheet.bFramesMax },
    });
  }
  if (s.profile === "baseline" && s.bFrames > 0) {
    findings.push({
      code: "b-frames-in-baseline",
      level: "blocks",
      field: "bFrames",
      is: s.bFrames,
      wanted: { max: 0 },
      rule: { by: "standard", clause: "H.264 A.2.1" },
      mend: { bFrames: 0 },
    });
  }
  const protocols = sheet.protocols.map((p) => p.protocol);
  if (!protocols.includes(s.protocol)) {
    findings.push({
      code: "protocol-not-taken",
      level: "blocks",
      field: "protocol",
      is: s.protocol,
      wanted: { oneOf: protocols },
      rule: at("protocols"),
      mend: protocolMend(s, rules),
    });
  }
  return findings;
}

/** Audio bitrate, sample rate and channels against a rule sheet. */
export function checkAudio(s: Settings, rules: Rules): Finding[] {
  const { audio } = rules.sheet;
  const findings: Finding[] = [];
  const rate = (code: string, wanted: Finding["wanted"]): Finding => ({
    code,
    level: "blocks",
    field: "audioBps",
    is: s.audioBps,
    wanted,
    rule: at("audio"),
    mend: audioMend(s, rules),
  });
  if (s.audioBps > audio.maxBps) findings.push(rate("audio-over-max", { max: audio.maxBps }));
  else if (s.audioBps < audio.minBps) findings.push(rate("audio-under-min", { min: audio.minBps }));
  if (!audio.sampleRatesHz.includes(s.audioHz)) {
    findings.push({
      code: "sample-rate-not-taken",
      level: "blocks",
      field: "audioHz",
      is: s.audioHz,
      wanted: { oneOf: audio.sampleRatesHz },
      rule: at("audio"),
      mend: { audioHz: nearest(audio.sampleRatesHz, s.audioHz) },
    });
  }
  if (s.audioChannels > audio.channelsMax) {
    findings.push({
      code: "channels-over-max",
      level: "blocks",
      field: "audioChannels",
      is: s.audioChannels,
      wanted: { max: audio.channelsMax },
      rule: at("audio"),
      mend: { audioChannels: audio.channelsMax },
    });
  }
  return findings;
}

/** The value of a list that is nearest to the one asked for. */
const nearest = (values: readonly number[], asked: number): number =>
  values.reduce((best, value) => (Math.abs(value - asked) < Math.abs(best - asked) ? value : best), values[0] ?? asked);
