import type { DayLine, HourBand, RateBin } from "@ukaza/contract/survey";
import { groupBy } from "../groupBy";
import { inOrder, quantileOf } from "../stats";
import type { Placed } from "./place";

const own = (tests: readonly Placed[]) => inOrder(tests.map((p) => p.reading.ownIpBps));

/** Tests gathered by local hour of day, in the order of the clock; hours without a test are left out. */
export function byHour(placed: readonly Placed[]): HourBand[] {
  const hours = groupBy(
    placed.filter((p) => p.tells),
    (p) => Math.floor(p.minuteOfDay / 60),
  );
  return [...hours.entries()]
    .sort(([a], [b]) => a - b)
    .map(([hour, tests]) => {
      const rates = own(tests);
      const at = (q: number) => quantileOf(rates, q) ?? 0;
      return { hour, count: rates.length, leastBps: at(0), tenthBps: at(0.1), medianBps: at(0.5), ninetiethBps: at(0.9) };
    });
}

/** Tests gathered by local day, the newest first. */
export function byDay(placed: readonly Placed[]): DayLine[] {
  const days = groupBy(
    placed.filter((p) => p.tells),
    (p) => p.day,
  );
  return [...days.entries()]
    .sort(([a], [b]) => b.localeCompare(a))
    .map(([day, tests]) => {
      const rates = own(tests);
      const near = own(tests.filter((p) => p.near));
      return {
        day,
        kind: tests[0]?.kind ?? "weekday",
        count: tests.length,
        leastBps: quantileOf(rates, 0) ?? 0,
        medianBps: quantileOf(rates, 0.5) ?? 0,
        nearShow: near.length,
        leastNearBps: quantileOf(near, 0),
      };
    });
}

/** About this many bars are read at a glance. */
const BARS = 12;
/** Widths of bars that a person counts in, times a power of ten. */
const steps = [1, 2, 5, 10];

/** How often each rate was found: bars of one even width from the slowest to the fastest test. */
export function distribution(placed: readonly Placed[], counting: ReadonlySet<string>): RateBin[] {
  const tests = placed.filter((p) => p.tells);
  if (tests.length === 0) return [];
  const rates = own(tests);
  const [least, most] = [rates[0] ?? 0, rates.at(-1) ?? 0];
  const rough = Math.max(100_000, (most - least) / BARS);
  const power = 10 ** Math.floor(Math.log10(rough));
  const width = (steps.find((step) => step * power >= rough) ?? 10) * power;
  const first = Math.floor(least / width);
  const bins = Array.from({ length: Math.floor(most / width) - first + 1 }, (_, i) => ({
    fromBps: (first + i) * width,
    toBps: (first + i + 1) * width,
    count: 0,
    counting: 0,
  }));
  for (const { reading } of tests) {
    const bin = bins[Math.floor(reading.ownIpBps / width) - first];
    if (!bin) continue;
    bin.count += 1;
    if (counting.has(reading.id)) bin.counting += 1;
  }
  return bins;
}
