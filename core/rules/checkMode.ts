import type { Finding } from "@ukaza/contract/findings";
import type { Settings } from "@ukaza/contract/settings";
import { compareLevels, h264Level } from "../media/h264Levels";
import { modesFor } from "./modes";
import { nearestVideoBps, pictureMend, type Rules, sideMultiple, videoMend } from "./resolve";

const at = (clause: string) => ({ by: "sheet" as const, clause });

/** Size, frame rate, codec, profile, level and bitrate against the modes of a rule sheet. */
export function checkMode(s: Settings, rules: Rules): Finding[] {
  const findings: Finding[] = [];
  const multiple = sideMultiple(rules.encoder);
  if (s.width % multiple !== 0 || s.height % multiple !== 0)
    findings.push({
      code: "size-not-multiple",
      level: "blocks",
      field: "width",
      is: `${s.width}×${s.height}`,
      wanted: { oneOf: [multiple] },
      rule: multiple === 2 ? { by: "standard", clause: "H.264 6.2, 4:2:0 sampling" } : { by: "encoder", clause: "sizeMultiple" },
      mend: pictureMend(s, rules),
    });
  const [mode] = modesFor(rules.sheet, s);
  if (!mode) return [...findings, noMode(s, rules)];
  if (!mode.profiles.includes(s.profile))
    findings.push({
      code: "profile-not-taken",
      level: "blocks",
      field: "profile",
      is: s.profile,
      wanted: { oneOf: mode.profiles },
      rule: at("modes"),
      mend: pictureMend(s, rules),
    });
  const best = mode.recommendedBps ?? mode.maxBps;
  const rate = (code: string, level: Finding["level"], wanted: Finding["wanted"], videoBps: number | null): Finding => ({
    code,
    level,
    field: "videoBps",
    is: s.videoBps,
    wanted,
    rule: at("modes"),
    mend: videoMend(s, videoBps),
  });
  if (s.videoBps > mode.maxBps) findings.push(rate("video-over-max", "blocks", { max: mode.maxBps }, nearestVideoBps(s, rules)));
  else if (s.videoBps < mode.minBps) findings.push(rate("video-under-min", "blocks", { min: mode.minBps }, nearestVideoBps(s, rules)));
  else if (s.videoBps > best) findings.push(rate("video-over-recommended", "notes", { max: best }, nearestVideoBps(s, rules, best)));
  const level = s.codec === "h264" ? h264Level(s.width, s.height, s.frameRate, s.videoBps, s.profile) : null;
  if (level !== null && compareLevels(level, mode.maxLevel) > 0)
    findings.push({
      code: "level-over-max",
      level: "blocks",
      field: "videoBps",
      is: level,
      wanted: { oneOf: [mode.maxLevel] },
      rule: { by: "standard", clause: "H.264 Table A-1" },
      mend: videoMend(s, nearestVideoBps(s, rules)) ?? pictureMend(s, rules),
    });
  return findings;
}

/** No row takes this size, rate and codec: says which of them is to blame; the mend goes to the nearest picture there is. */
function noMode(s: Settings, rules: Rules): Finding {
  const { modes } = rules.sheet;
  const sameSize = modes.filter((m) => m.width === s.width && m.height === s.height);
  const sameCodec = sameSize.filter((m) => m.codec === s.codec);
  const common = { level: "blocks" as const, rule: at("modes"), mend: pictureMend(s, rules) };
  if (sameSize.length === 0) {
    const sizes = [...new Set(modes.map((m) => `${m.width}×${m.height}`))];
    return { code: "size-not-taken", field: "width", is: `${s.width}×${s.height}`, wanted: { oneOf: sizes }, ...common };
  }
  if (sameCodec.length === 0)
    return {
      code: "codec-not-taken",
      field: "codec",
      is: s.codec,
      wanted: { oneOf: [...new Set(sameSize.map((m) => m.codec))] },
      ...common,
    };
  const rates = sameCodec.flatMap((m) => m.frameRates);
  return { code: "frame-rate-not-taken", field: "frameRate", is: s.frameRate, wanted: { oneOf: rates }, ...common };
}
