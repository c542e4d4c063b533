import { readTime } from "@ukaza/core/formats/when";
import { localTime } from "@ukaza/core/survey/localTime";

export interface Span {
  from: string;
  until: string;
}

/** Rule of thumb: an evening's show needs its encoder from six on. */
const EVENING = "18:00";
const DAY_MS = 86_400_000;

/** This evening until midnight on the clock of a place; what has gone by of it does not count. */
export function tonight(nowMs: number, timeZone: string): Span {
  const { day } = localTime(nowMs, timeZone);
  const [eveningMs, morningMs] = [readTime(`${day} ${EVENING}`, timeZone) ?? nowMs, readTime(`${day} 00:00`, timeZone) ?? nowMs];
  const { day: tomorrow } = localTime(morningMs + 1.5 * DAY_MS, timeZone);
  const midnightMs = readTime(`${tomorrow} 00:00`, timeZone) ?? morningMs + DAY_MS;
  return { from: new Date(Math.max(nowMs, eveningMs)).toISOString(), until: new Date(midnightMs).toISOString() };
}

/** Two typed times as a span, or what is wrong with them. */
export function typedSpan(from: string, until: string, timeZone: string): Span | { wrong: string } {
  const [fromMs, untilMs] = [readTime(from, timeZone), readTime(until, timeZone)];
  if (fromMs === null || untilMs === null) return { wrong: "Write both as 2026-06-10 18:00." };
  if (fromMs >= untilMs) return { wrong: "The end lies before the beginning." };
  return { from: new Date(fromMs).toISOString(), until: new Date(untilMs).toISOString() };
}
