import type { Measurement } from "@ukaza/contract/survey";
import { groupBy } from "../groupBy";
import { quantile } from "../stats";
import { localTime } from "./localTime";
import { ownIpBps } from "./ownRate";

/** One hour of the day: how many tests, and their least, middle and greatest rate in bit/s at the IP layer. */
export interface HourBand {
  hour: number;
  count: number;
  leastBps: number;
  medianBps: number;
  greatestBps: number;
}

/** Measurements gathered by local hour of day, in the order of the clock; hours without a test are left out. */
export function byHour(measurements: readonly Measurement[], timeZone: string): HourBand[] {
  const counting = measurements.filter((m) => !m.floor);
  const hours = groupBy(counting, (m) => Math.floor(localTime(m.takenAt, timeZone).minuteOfDay / 60));
  return [...hours.entries()]
    .sort(([a], [b]) => a - b)
    .map(([hour, tests]) => ({ hour, rates: tests.map(ownIpBps) }))
    .map(({ hour, rates }) => ({
      hour,
      count: rates.length,
      leastBps: quantile(rates, 0) ?? 0,
      medianBps: quantile(rates, 0.5) ?? 0,
      greatestBps: quantile(rates, 1) ?? 0,
    }));
}
