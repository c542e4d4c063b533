import type { Sustainable } from "@ukaza/contract/survey";
import { boundOf, choiceOf, nextLevel } from "./level";
import { outliersOf } from "./outliers";
import { type Placed, type Placement, place, type SurveyQuestion } from "./place";
import type { Reading } from "./reading";
import { surveyRules } from "./rules";

/** The verdict on one uplink, with which tests it rests on. */
export interface Verdict {
  result: Sustainable;
  counting: Set<string>;
  outliers: Map<string, "low" | "high">;
}

/**
 * The rate an uplink will still carry at show time, with its evidence. Rates in bit/s at the IP layer.
 * Only measurements near the show's hours count, of the same kind of day where five exist. 29 or more give the
 * lower bound of a one-sided 95 % interval of their 10th percentile; fewer give their minimum with a larger reserve.
 */
export function verdictOf(placement: Placement, reserveOverride: number | null): Verdict {
  const { placed, startMinute, lengthMin, kind, reservedBps } = placement;
  const telling = placed.filter((p) => p.tells);
  const fresh = telling.filter((p) => !p.aged);
  const alive = fresh.length > 0 ? fresh : telling;
  const near = alive.filter((p) => p.near);
  const sameKind = near.filter((p) => p.kind === kind);
  const counts = { all: alive.length, near: near.length, sameKind: sameKind.length };
  const choice = choiceOf(counts);
  const used: Placed[] = choice.allHours ? alive : choice.narrowed ? sameKind : near;
  const { evidence, rateBps, ruleReserve } = boundOf(used.map((p) => p.atShowBps));
  const outliers = outliersOf(placed);
  const sides = [...outliers.values()];
  const reserve = reserveOverride ?? ruleReserve;
  return {
    counting: new Set(used.map((p) => p.reading.id)),
    outliers,
    result: {
      evidence,
      basis: "tests",
      total: placed.length,
      nearShow: near.length,
      used: used.length,
      sameKindOfDay: choice.narrowed ? kind : null,
      allHours: choice.allHours && used.length > 0,
      aged: telling.length - fresh.length,
      floors: placed.filter((p) => p.reading.floor && p.reading.excluded === null).length,
      excluded: placed.filter((p) => p.reading.excluded !== null).length,
      outliersLow: sides.filter((side) => side === "low").length,
      outliersHigh: sides.filter((side) => side === "high").length,
      window: windowOf(startMinute, lengthMin),
      reservedBps,
      sustainableBps: rateBps,
      ruleReserve,
      reserve,
      usableBps: rateBps === null ? null : Math.floor(rateBps * (1 - reserve)),
      next: nextLevel(counts, kind),
    },
  };
}

/** The minutes of the day that are near the show; the whole day if the show is long. */
function windowOf(startMinute: number, lengthMin: number): Sustainable["window"] {
  const reach = lengthMin + 2 * surveyRules.windowMin;
  if (reach >= 1440) return { fromMinute: 0, untilMinute: 1440 };
  const fromMinute = (((startMinute - surveyRules.windowMin) % 1440) + 1440) % 1440;
  return { fromMinute, untilMinute: fromMinute + reach };
}

export function sustainableRate(readings: readonly Reading[], question: SurveyQuestion): Sustainable {
  return verdictOf(place(readings, question), question.reserveOverride).result;
}
