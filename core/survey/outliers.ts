import { groupBy } from "../groupBy";
import { mean, median } from "../stats";
import type { Placed } from "./place";
import { surveyRules } from "./rules";

/** Fewer tests in an hour say nothing about what is unusual in it. */
const LEAST_IN_HOUR = 5;

/**
 * Tests far from the others of their hour of the day, by the modified z-score 0.6745·(x − median)/MAD, with
 * 0.7979·(x − median)/mean absolute deviation where more than half are equal (Iglewicz and Hoaglin 1993).
 * Marked for a person to look at; they count like any other.
 */
export function outliersOf(placed: readonly Placed[]): Map<string, "low" | "high"> {
  const found = new Map<string, "low" | "high">();
  const telling = placed.filter((p) => p.tells);
  for (const tests of groupBy(telling, (p) => Math.floor(p.minuteOfDay / 60)).values()) {
    if (tests.length < LEAST_IN_HOUR) continue;
    const rates = tests.map((p) => p.reading.ownIpBps);
    const middle = median(rates) ?? 0;
    const away = rates.map((rate) => Math.abs(rate - middle));
    const mad = median(away) ?? 0;
    const scale = mad > 0 ? 0.6745 / mad : 0.7979 / (mean(away) || Number.POSITIVE_INFINITY);
    for (const { reading } of tests) {
      const score = (reading.ownIpBps - middle) * scale;
      if (Math.abs(score) > surveyRules.outlierScore) found.set(reading.id, score < 0 ? "low" : "high");
    }
  }
  return found;
}
