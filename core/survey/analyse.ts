import type { DayLine, HourBand, PathVerdict, RateBin } from "@ukaza/contract/survey";
import { pathVerdict } from "./path";
import { type Placed, place, type SurveyQuestion } from "./place";
import type { Reading } from "./reading";
import { byDay, byHour, distribution } from "./spread";
import { type Verdict, verdictOf } from "./sustainable";

/** A feed worth asking the path about before anything is fitted. */
const TYPICAL_FEED_BPS = 6_000_000;

export interface Analysis extends Verdict {
  placed: Placed[];
  path: PathVerdict;
  hours: HourBand[];
  days: DayLine[];
  bins: RateBin[];
}

/**
 * Everything that is said of one uplink's measurements about one show, in steps: a caller with other things to do turns
 * to them in between, since a hundred thousand measurements take some hundreds of milliseconds.
 */
export function* analyseInSteps(readings: readonly Reading[], question: SurveyQuestion): Generator<undefined, Analysis> {
  const placement = place(readings, question);
  yield;
  const verdict = verdictOf(placement, question.reserveOverride);
  yield;
  const { placed } = placement;
  const hours = byHour(placed);
  yield;
  const days = byDay(placed);
  yield;
  const bins = distribution(placed, verdict.counting);
  yield;
  return { ...verdict, placed, path: pathVerdict(readings, TYPICAL_FEED_BPS), hours, days, bins };
}

/** The same in one go. */
export function analyse(readings: readonly Reading[], question: SurveyQuestion): Analysis {
  const steps = analyseInSteps(readings, question);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}
