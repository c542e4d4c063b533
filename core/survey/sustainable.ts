import type { Measurement, Sustainable } from "@ukaza/contract/survey";
import { localTime, nearSpan } from "./localTime";
import { lowerBoundRank } from "./orderStatistic";
import { ownIpBps } from "./ownRate";

/** Rules of thumb of the survey model; each is shown where it matters. */
export const surveyRules = {
  windowMin: 90,
  leastInWindow: 5,
  leastSameKind: 5,
  leastForInterval: 29,
  reserveInterval: 0.2,
  reserveMinimum: 0.35,
  reserveFew: 0.5,
  agedDays: 45,
} as const;

export interface SurveyQuestion {
  /** The show's planned span, ISO 8601. */
  show: { start: string; end: string };
  timeZone: string;
  /** The instant from which age counts, ISO 8601. */
  asOf: string;
  reserveOverride: number | null;
}

const DAY_MS = 86_400_000;

/**
 * The rate an uplink will still carry at show time, with its evidence. Rates in bit/s at the IP layer.
 * Only measurements near the show's hours count, of the same kind of day where five exist. 29 or more give the
 * lower bound of a one-sided 95 % interval of their 10th percentile; fewer give their minimum with a larger reserve.
 */
export function sustainableRate(measurements: readonly Measurement[], question: SurveyQuestion): Sustainable {
  const asOfMs = Date.parse(question.asOf);
  const isAged = (m: Measurement) => asOfMs - Date.parse(m.takenAt) > surveyRules.agedDays * DAY_MS;
  const counting = measurements.filter((m) => !m.floor);
  const fresh = counting.filter((m) => !isAged(m));
  const alive = fresh.length > 0 ? fresh : counting;

  const start = localTime(question.show.start, question.timeZone);
  const lengthMin = (Date.parse(question.show.end) - Date.parse(question.show.start)) / 60_000;
  const placed = alive.map((m) => ({ m, at: localTime(m.takenAt, question.timeZone) }));
  const near = placed.filter(({ at }) => nearSpan(at.minuteOfDay, start.minuteOfDay, lengthMin, surveyRules.windowMin));
  const sameKind = near.filter(({ at }) => at.kind === start.kind);

  const allHours = near.length < surveyRules.leastInWindow;
  const narrowed = !allHours && sameKind.length >= surveyRules.leastSameKind;
  const used = allHours ? placed : narrowed ? sameKind : near;
  const counted = {
    total: measurements.length,
    nearShow: near.length,
    used: used.length,
    sameKindOfDay: narrowed ? start.kind : null,
    allHours: allHours && used.length > 0,
    aged: counting.length - fresh.length,
    floors: measurements.length - counting.length,
    usedIds: used.map(({ m }) => m.id),
  };
  const { evidence, rateBps, ruleReserve } = boundOf(used.map(({ m }) => ownIpBps(m)));
  const reserve = question.reserveOverride ?? ruleReserve;
  return {
    ...counted,
    evidence,
    sustainableBps: rateBps,
    ruleReserve,
    reserve,
    usableBps: rateBps === null ? null : Math.floor(rateBps * (1 - reserve)),
  };
}

interface Bound {
  evidence: Sustainable["evidence"];
  rateBps: number | null;
  ruleReserve: number;
}

/** The bound and the reserve that the number of measurements allows. */
export function boundOf(ratesBps: readonly number[]): Bound {
  const n = ratesBps.length;
  if (n === 0) return { evidence: "none", rateBps: null, ruleReserve: surveyRules.reserveFew };
  const sorted = [...ratesBps].sort((a, b) => a - b);
  if (n >= surveyRules.leastForInterval) {
    const rank = lowerBoundRank(n);
    return { evidence: "interval", rateBps: Math.floor(sorted[rank - 1] ?? 0), ruleReserve: surveyRules.reserveInterval };
  }
  const rateBps = Math.floor(sorted[0] ?? 0);
  return n >= surveyRules.leastInWindow
    ? { evidence: "minimum", rateBps, ruleReserve: surveyRules.reserveMinimum }
    : { evidence: "few", rateBps, ruleReserve: surveyRules.reserveFew };
}
