import { tzOffset } from "@date-fns/tz";
import type { KindOfDay } from "@ukaza/contract/survey";

export interface LocalTime {
  /** Minutes since local midnight, with the seconds as a fraction. */
  minuteOfDay: number;
  kind: KindOfDay;
  /** yyyy-mm-dd. */
  day: string;
}

const DAY_MS = 86_400_000;
const MINUTE_MS = 60_000;

/** Offsets by zone and UTC day, minutes; null: the clock changes within that day. A hundred thousand tests lie on few days. */
const offsets = new Map<string, Map<number, number | null>>();

/** How far the clock of a zone is ahead of UTC at an instant, minutes. */
export function offsetMin(ms: number, timeZone: string): number {
  const days = offsets.get(timeZone) ?? new Map<number, number | null>();
  offsets.set(timeZone, days);
  const day = Math.floor(ms / DAY_MS);
  let offset = days.get(day);
  if (offset === undefined) {
    const [start, end] = [tzOffset(timeZone, new Date(day * DAY_MS)), tzOffset(timeZone, new Date((day + 1) * DAY_MS))];
    offset = start === end ? start : null;
    days.set(day, offset);
  }
  return offset ?? tzOffset(timeZone, new Date(ms));
}

const dayNames = new Map<number, { day: string; kind: KindOfDay }>();

/** The name of a local day given as days since 1970. */
function dayOf(number: number): { day: string; kind: KindOfDay } {
  let found = dayNames.get(number);
  if (!found) {
    const date = new Date(number * DAY_MS);
    const weekday = date.getUTCDay();
    found = { day: date.toISOString().slice(0, 10), kind: weekday === 0 || weekday === 6 ? "weekend" : "weekday" };
    dayNames.set(number, found);
  }
  return found;
}

/** An instant (ms since the epoch or ISO 8601) as a clock on the venue's wall shows it. */
export function localTime(instant: number | string, timeZone: string): LocalTime {
  const ms = typeof instant === "number" ? instant : Date.parse(instant);
  const localMs = ms + offsetMin(ms, timeZone) * MINUTE_MS;
  const number = Math.floor(localMs / DAY_MS);
  return { minuteOfDay: (localMs - number * DAY_MS) / MINUTE_MS, ...dayOf(number) };
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

/** "19:30" as minutes since midnight. */
export function clockMinute(clock: string): number {
  const [hour = 0, minute = 0] = clock.split(":").map(Number);
  return hour * 60 + minute;
}
