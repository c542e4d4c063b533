import type { Finding } from "@ukaza/contract/findings";
import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import type { Settings } from "@ukaza/contract/settings";
import { compareLevels, h264Level } from "../media/h264Levels";
import { modesFor, nearestMode } from "./modes";

const at = (clause: string) => ({ by: "sheet" as const, clause });

/** Size, frame rate, codec, profile, level and bitrate against the modes of a rule sheet. */
export function checkMode(s: Settings, sheet: RuleSheet): Finding[] {
  const [mode] = modesFor(sheet, s);
  if (!mode) return [noMode(s, sheet)];
  const findings: Finding[] = [];
  if (!mode.profiles.includes(s.profile)) {
    findings.push({
      code: "profile-not-taken",
      level: "blocks",
      field: "profile",
      is: s.profile,
      wanted: { oneOf: mode.profiles },
      rule: at("modes"),
      mend: { profile: mode.profiles[0] },
    });
  }
  const best = mode.recommendedBps ?? mode.maxBps;
  const rate = (code: string, level: Finding["level"], wanted: Finding["wanted"], videoBps: number): Finding => ({
    code,
    level,
    field: "videoBps",
    is: s.videoBps,
    wanted,
    rule: at("modes"),
    mend: { videoBps },
  });
  if (s.videoBps > mode.maxBps) findings.push(rate("video-over-max", "blocks", { max: mode.maxBps }, mode.maxBps));
  else if (s.videoBps < mode.minBps) findings.push(rate("video-under-min", "blocks", { min: mode.minBps }, mode.minBps));
  else if (s.videoBps > best) findings.push(rate("video-over-recommended", "notes", { max: best }, best));
  const level = s.codec === "h264" ? h264Level(s.width, s.height, s.frameRate, s.videoBps, s.profile) : null;
  if (level !== null && compareLevels(level, mode.maxLevel) > 0) {
    findings.push({
      code: "level-over-max",
      level: "blocks",
      field: "videoBps",
      is: level,
      wanted: { oneOf: [mode.maxLevel] },
      rule: { by: "standard", clause: "H.264 Table A-1" },
      mend: null,
    });
  }
  return findings;
}

/** No row takes this size, rate and codec: say which of them is to blame and mend only that. */
function noMode(s: Settings, sheet: RuleSheet): Finding {
  const sameSize = sheet.modes.filter((m) => m.width === s.width && m.height === s.height);
  const near = nearestMode(sheet, s);
  const videoBps = Math.min(Math.max(s.videoBps, near.mode.minBps), near.mode.maxBps);
  const bitrate = videoBps === s.videoBps ? {} : { videoBps };
  const profile = near.mode.profiles.includes(s.profile) ? {} : { profile: near.mode.profiles[0] };
  if (sameSize.length === 0) {
    const sizes = [...new Set(sheet.modes.map((m) => `${m.width}×${m.height}`))];
    return {
      code: "size-not-taken",
      level: "blocks",
      field: "width",
      is: `${s.width}×${s.height}`,
      wanted: { oneOf: sizes },
      rule: at("modes"),
      mend: { width: near.mode.width, height: near.mode.height, frameRate: near.frameRate, codec: near.mode.codec, ...profile, ...bitrate },
    };
  }
  const sameCodec = sameSize.filter((m) => m.codec === s.codec);
  if (sameCodec.length === 0) {
    return {
      code: "codec-not-taken",
      level: "blocks",
      field: "codec",
      is: s.codec,
      wanted: { oneOf: [...new Set(sameSize.map((m) => m.codec))] },
      rule: at("modes"),
      mend: { codec: near.mode.codec, frameRate: near.frameRate, ...profile, ...bitrate },
    };
  }
  const here = nearestMode({ ...sheet, modes: sameCodec }, s);
  const kept = Math.min(Math.max(s.videoBps, here.mode.minBps), here.mode.maxBps);
  return {
    code: "frame-rate-not-taken",
    level: "blocks",
    field: "frameRate",
    is: s.frameRate,
    wanted: { oneOf: sameCodec.flatMap((m) => m.frameRates) },
    rule: at("modes"),
    mend: { frameRate: here.frameRate, ...(kept === s.videoBps ? {} : { videoBps: kept }) },
  };
}
