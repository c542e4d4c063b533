import { TZDate } from "@date-fns/tz";

export interface LocalTime {
  /** Minutes since local midnight. */
  minuteOfDay: number;
  kind: "weekday" | "weekend";
  /** yyyy-mm-dd. */
  day: string;
}

const two = (n: number) => String(n).padStart(2, "0");

/** An instant (ms since the epoch or ISO 8601) as a clock on the venue's wall shows it. */
export function localTime(instant: number | string, timeZone: string): LocalTime {
  const ms = typeof instant === "number" ? instant : Date.parse(instant);
  const local = new TZDate(ms, timeZone);
  const weekday = local.getDay();
  return {
    minuteOfDay: local.getHours() * 60 + local.getMinutes() + local.getSeconds() / 60,
    kind: weekday === 0 || weekday === 6 ? "weekend" : "weekday",
    day: `${local.getFullYear()}-${two(local.getMonth() + 1)}-${two(local.getDate())}`,
  };
}

/**
 * Whether a time of day lies within `marginMin` minutes of a span of the clock.
 * The span may pass midnight; one of a day or more takes every time.
 */
export function nearSpan(minuteOfDay: number, startMinute: number, lengthMin: number, marginMin: number): boolean {
  const reach = lengthMin + 2 * marginMin;
  if (reach >= 1440) return true;
  const sinceOpening = (((minuteOfDay - (startMinute - marginMin)) % 1440) + 1440) % 1440;
  return sinceOpening <= reach;
}
