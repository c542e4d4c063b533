import type { Mode, RuleSheet } from "@ukaza/contract/ruleSheet";
import type { Settings } from "@ukaza/contract/settings";

/** The rows of a sheet that take this size, frame rate and codec. */
export function modesFor(sheet: RuleSheet, s: Pick<Settings, "width" | "height" | "frameRate" | "codec">): Mode[] {
  return sheet.modes.filter(
    (m) => m.width === s.width && m.height === s.height && m.codec === s.codec && m.frameRates.includes(s.frameRate),
  );
}
