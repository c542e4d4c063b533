import type { Encoder } from "@ukaza/contract/encoder";
import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import type { Content, Settings, Source } from "@ukaza/contract/settings";
import { frameRateHz, rateFamily } from "../../media/frameRate";
import { codecLevel, compareLevels } from "../../media/levels";
import { lacks } from "../../rules/abilities";
import { pictureScore } from "../score";

/** Neighbouring renditions lie this far apart in bitrate (rule of thumb): nearer ones cost line and engines for nothing seen. */
export const rungSpacing = { least: 1.5, most: 2 } as const;

/** Why or why not one mode of a sheet can stand below a rendition. */
function rungAt(above: Settings, videoBps: number, sheet: RuleSheet, encoders: readonly Encoder[], source: Source, content: Content) {
  let best: { settings: Settings; q: number } | null = null;
  for (const mode of sheet.modes) {
    if (mode.codec !== above.codec || mode.width * mode.height >= above.width * above.height) continue;
    if (!mode.profiles.includes(above.profile) || videoBps < mode.minBps || videoBps > (mode.recommendedBps ?? mode.maxBps)) continue;
    for (const frameRate of mode.frameRates) {
      if (rateFamily(frameRate) !== rateFamily(above.frameRate) || frameRateHz(frameRate) > frameRateHz(above.frameRate)) continue;
      const settings: Settings = { ...above, width: mode.width, height: mode.height, frameRate, videoBps };
      const level = codecLevel(settings);
      const made = encoders.every((e) => {
        const ability = e.codecs.find((c) => c.codec === mode.codec);
        const sides = mode.width % e.sizeMultiple === 0 && mode.height % e.sizeMultiple === 0;
        const range = videoBps >= e.videoBps.min && videoBps <= e.videoBps.max;
        return (
          sides && range && lacks(e, settings, source).length === 0 && level !== null && compareLevels(level, ability?.maxLevel ?? "1") <= 0
        );
      });
      if (!made || level === null || compareLevels(level, mode.maxLevel) > 0) continue;
      const { q } = pictureScore(settings, source, content);
      if (!best || q > best.q + 1e-9) best = { settings, q };
    }
  }
  return best?.settings ?? null;
}

/**
 * The smaller renditions beside a main picture, or null where the sheet and the encoders have no room for so many. Each is
 * the lightest that lies 1.5 to 2 times below the one above it, of a smaller size and the same family of frame rates;
 * keyframes, audio and profile are the main one's, so that a player can change between them.
 */
export function ladderOf(
  top: Settings,
  sheet: RuleSheet,
  encoders: readonly Encoder[],
  source: Source,
  content: Content,
  count: number,
): Settings[] | null {
  const step = Math.max(...encoders.map((e) => e.videoBps.step));
  const rungs: Settings[] = [];
  let above = top;
  while (rungs.length < count - 1) {
    let rung: Settings | null = null;
    const most = above.videoBps / rungSpacing.least;
    for (let bps = Math.ceil(above.videoBps / rungSpacing.most / step) * step; bps <= most && !rung; bps += step)
      rung = rungAt(above, bps, sheet, encoders, source, content);
    if (!rung) return null;
    rungs.push(rung);
    above = rung;
  }
  return rungs;
}
