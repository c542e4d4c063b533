import type { Settings } from "@ukaza/contract/settings";
import { codecLevel, compareLevels, levelClause } from "../media/levels";
import { type Fault, faultsBy } from "./fault";
import { modeFor } from "./modes";
import { nearestVideoBps, pictureMend, type Rules, sideMultiple, videoMend } from "./resolve";

/** Size, frame rate, codec, profile, level and bitrate against the modes of a rule sheet. */
export function checkMode(s: Settings, rules: Rules): Fault[] {
  const { faults, say } = faultsBy("sheet");
  const picture = () => pictureMend(s, rules);
  const multiple = sideMultiple(rules.encoder);
  if (s.width % multiple !== 0 || s.height % multiple !== 0)
    faults.push({
      code: "size-not-multiple",
      level: "blocks",
      field: "width",
      is: `${s.width}×${s.height}`,
      wanted: { oneOf: [multiple] },
      rule: multiple === 2 ? { by: "standard", clause: "H.264 6.2, 4:2:0 sampling" } : { by: "encoder", clause: "sizeMultiple" },
      mend: picture,
    });
  faults.push(...checkByStandard(s, rules));
  const mode = modeFor(rules.sheet, s);
  if (!mode) return [...faults, noMode(s, rules)];
  if (!mode.profiles.includes(s.profile))
    say("profile-not-taken", "blocks", "profile", s.profile, { oneOf: mode.profiles }, "modes", picture);
  const best = mode.recommendedBps ?? mode.maxBps;
  const video = (most?: number) => () => videoMend(s, nearestVideoBps(s, rules, most));
  if (s.videoBps > mode.maxBps) say("video-over-max", "blocks", "videoBps", s.videoBps, { max: mode.maxBps }, "modes", video());
  else if (s.videoBps < mode.minBps) say("video-under-min", "blocks", "videoBps", s.videoBps, { min: mode.minBps }, "modes", video());
  else if (s.videoBps > best) say("video-over-recommended", "notes", "videoBps", s.videoBps, { max: best }, "modes", video(best));
  const level = codecLevel(s);
  if (level !== null && compareLevels(level, mode.maxLevel) > 0)
    faults.push({
      code: "level-over-max",
      level: "blocks",
      field: "videoBps",
      is: level,
      wanted: { oneOf: [mode.maxLevel] },
      rule: { by: "standard", clause: levelClause[s.codec] },
      mend: () => videoMend(s, nearestVideoBps(s, rules)) ?? picture(),
    });
  return faults;
}

/** What the standards say, whatever the sheet does: a picture that no level holds, and a codec that the protocol was not made for. */
function checkByStandard(s: Settings, rules: Rules): Fault[] {
  const { faults, say } = faultsBy("standard");
  if (codecLevel(s) === null)
    say(
      "no-level",
      "blocks",
      "videoBps",
      `${s.width}×${s.height}`,
      { oneOf: [] },
      levelClause[s.codec],
      () => videoMend(s, nearestVideoBps(s, rules)) ?? pictureMend(s, rules),
    );
  // A sheet with modes of its own says itself what comes over which protocol.
  if (rules.sheet.openModes && s.codec !== "h264" && s.protocol !== "srt")
    say("codec-over-rtmp", "risks", "protocol", s.protocol, { oneOf: ["srt"] }, "RTMP 1.0 with FLV 10.1, E.4.3.1");
  return faults;
}

/** No row takes this size, rate and codec: says which of them is to blame; the mend goes to the nearest picture there is. */
function noMode(s: Settings, rules: Rules): Fault {
  const { modes } = rules.sheet;
  const sameSize = modes.filter((m) => m.width === s.width && m.height === s.height);
  const sameCodec = sameSize.filter((m) => m.codec === s.codec);
  const common = { level: "blocks" as const, rule: { by: "sheet" as const, clause: "modes" }, mend: () => pictureMend(s, rules) };
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
