import type { Mode, RuleSheet } from "@ukaza/contract/ruleSheet";
import type { Settings } from "@ukaza/contract/settings";
import { frameRateHz } from "../media/frameRate";

/** The rows of a sheet that take this size, frame rate and codec. */
export function modesFor(sheet: RuleSheet, s: Pick<Settings, "width" | "height" | "frameRate" | "codec">): Mode[] {
  return sheet.modes.filter(
    (m) => m.width === s.width && m.height === s.height && m.codec === s.codec && m.frameRates.includes(s.frameRate),
  );
}

/**
 * The row nearest to what was asked for, for a mend that changes the least: same codec first, then the size not
 * above the asked one with the least difference, then the frame rate with the least difference.
 */
export function nearestMode(
  sheet: RuleSheet,
  s: Pick<Settings, "width" | "height" | "frameRate" | "codec">,
): { mode: Mode; frameRate: string } {
  const area = s.width * s.height;
  const cost = (mode: Mode, frameRate: string) => {
    const own = mode.width * mode.height;
    const codec = mode.codec === s.codec ? 0 : 1_000;
    const larger = own > area ? 10 : 0;
    return codec + larger + Math.abs(Math.log(own / area)) + Math.abs(Math.log(frameRateHz(frameRate) / frameRateHz(s.frameRate))) * 1.01;
  };
  const all = sheet.modes.flatMap((mode) => mode.frameRates.map((frameRate) => ({ mode, frameRate, cost: cost(mode, frameRate) })));
  const [first, ...rest] = all;
  if (!first) throw new RangeError("a rule sheet has at least one mode");
  return rest.reduce((best, next) => (next.cost < best.cost ? next : best), first);
}
