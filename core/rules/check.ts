import type { CheckInput, Finding } from "@ukaza/contract/findings";
import type { Settings } from "@ukaza/contract/settings";
import { checkEncoder, checkLine, checkSource } from "./checkKit";
import { checkMode } from "./checkMode";
import { checkAudio, checkStream } from "./checkStream";

const severity: Record<Finding["level"], number> = { blocks: 0, risks: 1, notes: 2 };

/** Every difference between settings and the rules they stand under, the worst first. */
export function checkSettings(input: CheckInput): Finding[] {
  const { settings, sheet, encoder, source, usableBps } = input;
  const findings = [
    ...checkMode(settings, sheet),
    ...checkStream(settings, sheet),
    ...checkAudio(settings, sheet),
    ...(encoder ? checkEncoder(settings, encoder) : []),
    ...(source ? checkSource(settings, source, sheet) : []),
    ...(usableBps === undefined ? [] : checkLine(settings, usableBps, sheet)),
  ];
  return findings.sort((a, b) => severity[a.level] - severity[b.level]);
}

/** Settings with one finding's mend applied; unchanged where it has none. */
export function mend(settings: Settings, finding: Pick<Finding, "mend">): Settings {
  return { ...settings, ...finding.mend };
}
