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

/** Everything that is said of one uplink's measurements about one show. */
export function analyse(readings: readonly Reading[], question: SurveyQuestion): Analysis {
  const placement = place(readings, question);
  const verdict = verdictOf(placement, question.reserveOverride);
  const { placed } = placement;
  return {
    ...verdict,
    placed,
    path: pathVerdict(
      readings.filter((r) => r.excluded === null),
      TYPICAL_FEED_BPS,
    ),
    hours: byHour(placed),
    days: byDay(placed),
    bins: distribution(placed, verdict.counting),
  };
}
