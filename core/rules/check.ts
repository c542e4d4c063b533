import type { CheckInput, Finding } from "@ukaza/contract/findings";
import type { Settings } from "@ukaza/contract/settings";
import { checkEncoder } from "./checkEncoder";
import { checkMode } from "./checkMode";
import { checkLine, checkNeed, checkSource } from "./checkSource";
import { checkAudio, checkStream } from "./checkStream";
import type { Fault } from "./fault";

const severity: Record<Finding["level"], number> = { blocks: 0, risks: 1, notes: 2 };

/** Every difference between settings and the rules they stand under, the worst first, no mend worked out yet. */
export function faultsIn({ settings, ...rules }: CheckInput): Fault[] {
  const { encoder, source, usableBps, content } = rules;
  const faults = [
    ...checkMode(settings, rules),
    ...checkStream(settings, rules),
    ...checkAudio(settings, rules),
    ...(encoder ? checkEncoder(settings, encoder, rules) : []),
    ...(source ? checkSource(settings, source, rules) : []),
    ...(content ? checkNeed(settings, content, rules) : []),
    ...(usableBps === undefined ? [] : checkLine(settings, usableBps, rules)),
  ];
  return faults.sort((a, b) => severity[a.level] - severity[b.level]);
}

/**
 * Every difference, with its mend. Each mend is worked out against all the rules at once: carried out alone it takes
 * its finding away, and carried out together none undoes another.
 */
export function checkSettings(input: CheckInput): Finding[] {
  return faultsIn(input).map((fault) => ({ ...fault, mend: fault.mend?.() ?? null }));
}

/** Settings with one finding's mend applied; unchanged where it has none. */
export function mend(settings: Settings, finding: Pick<Finding, "mend">): Settings {
  return { ...settings, ...finding.mend };
}

/** No settings have so many faults that this many mends would not reach the end of them. */
const MOST_MENDS = 30;

/** Settings with everything mended that can be, the worst first; and what was mended, in that order. */
export function mendAll(input: CheckInput): { settings: Settings; mended: Finding[] } {
  let { settings } = input;
  const mended: Finding[] = [];
  while (mended.length < MOST_MENDS) {
    const next = firstMendable({ ...input, settings });
    if (!next) break;
    settings = mend(settings, next);
    mended.push(next);
  }
  return { settings, mended };
}

function firstMendable(input: CheckInput): Finding | null {
  for (const fault of faultsIn(input)) {
    const patch = fault.mend?.() ?? null;
    if (patch) return { ...fault, mend: patch };
  }
  return null;
}
