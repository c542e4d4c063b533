import type { Evidence, KindOfDay, NextLevel } from "@ukaza/contract/survey";
import { inOrder } from "../stats";
import { lowerBoundRank } from "./orderStatistic";
import { surveyRules } from "./rules";

interface Bound {
  evidence: Evidence;
  rateBps: number | null;
  ruleReserve: number;
}

/** The evidence that a number of tests gives, and the reserve it asks for. */
export function evidenceOf(n: number): { evidence: Evidence; ruleReserve: number } {
  if (n === 0) return { evidence: "none", ruleReserve: surveyRules.reserveFew };
  if (n < surveyRules.leastInWindow) return { evidence: "few", ruleReserve: surveyRules.reserveFew };
  if (n < surveyRules.leastForInterval) return { evidence: "minimum", ruleReserve: surveyRules.reserveMinimum };
  return { evidence: "interval", ruleReserve: surveyRules.reserveInterval };
}

/** The bound that tests allow, bit/s: an order statistic from 29 on, else their minimum; with the reserve. */
export function boundOf(ratesBps: readonly number[]): Bound {
  const level = evidenceOf(ratesBps.length);
  if (ratesBps.length === 0) return { ...level, rateBps: null };
  const sorted = inOrder(ratesBps);
  const rank = level.evidence === "interval" ? lowerBoundRank(sorted.length) : 1;
  return { ...level, rateBps: Math.floor(sorted[rank - 1] ?? 0) };
}

/** How many tests there are to choose from. */
export interface Counts {
  all: number;
  near: number;
  sameKind: number;
}

/** Which of them count: all hours where too few are near the show; only its kind of day where enough are of it. */
export function choiceOf({ all, near, sameKind }: Counts): { used: number; allHours: boolean; narrowed: boolean } {
  const allHours = near < surveyRules.leastInWindow;
  const narrowed = !allHours && sameKind >= surveyRules.leastSameKind;
  return { used: allHours ? all : narrowed ? sameKind : near, allHours, narrowed };
}

const ranks: readonly Evidence[] = ["none", "few", "minimum", "interval"];
/** With this many more any first level is reached. */
const MOST_MORE = 40;

/** The level after `more` further tests near the show on its kind of day. */
export function levelAfter(counts: Counts, more: number) {
  const choice = choiceOf({ all: counts.all + more, near: counts.near + more, sameKind: counts.sameKind + more });
  return { ...choice, ...evidenceOf(choice.used) };
}

/** The fewest further tests that make the number surer, and what they would give; null: there is nothing above. */
export function nextLevel(counts: Counts, kindOfDay: KindOfDay): NextLevel | null {
  const now = levelAfter(counts, 0);
  for (let more = 1; more <= MOST_MORE; more++) {
    const then = levelAfter(counts, more);
    const leavesAllHours = now.allHours && !then.allHours && now.used > 0;
    const surer = then.allHours === now.allHours && ranks.indexOf(then.evidence) > ranks.indexOf(now.evidence);
    if (leavesAllHours || surer) return { more, kindOfDay, evidence: then.evidence, reserve: then.ruleReserve, leavesAllHours };
  }
  return null;
}
