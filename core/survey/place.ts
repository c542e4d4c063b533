import type { KindOfDay } from "@ukaza/contract/survey";
import type { ReservedHours } from "@ukaza/contract/venue";
import { localTime, nearSpan } from "./localTime";
import type { Reading } from "./reading";
import { reservedAt, reservedDuring } from "./reserved";
import { surveyRules } from "./rules";

export interface SurveyQuestion {
  /** The show's planned span, ISO 8601. */
  show: { start: string; end: string };
  timeZone: string;
  /** The instant from which age counts, ISO 8601. */
  asOf: string;
  reserveOverride: number | null;
  /** What others on the line are to have, by hours. */
  reserved?: readonly ReservedHours[];
}

/** A reading on the venue's clock, and where that lies from the show. */
export interface Placed {
  reading: Reading;
  minuteOfDay: number;
  kind: KindOfDay;
  day: string;
  near: boolean;
  aged: boolean;
  /** Neither a floor nor excluded: it says what the line carries. */
  tells: boolean;
  /** Own rate less what others will take at show time and did not have set aside when the test ran, bit/s. */
  atShowBps: number;
}

export interface Placement {
  placed: Placed[];
  /** The show's start on the clock, its length, and its kind of day. */
  startMinute: number;
  lengthMin: number;
  kind: KindOfDay;
  reservedBps: number;
}

/** Puts every reading on the venue's clock. */
export function place(readings: readonly Reading[], question: SurveyQuestion): Placement {
  const { show, timeZone, reserved = [] } = question;
  const oldestMs = Date.parse(question.asOf) - surveyRules.agedDays * 86_400_000;
  const start = localTime(show.start, timeZone);
  const lengthMin = (Date.parse(show.end) - Date.parse(show.start)) / 60_000;
  const reservedBps = reservedDuring(reserved, start.minuteOfDay, lengthMin);
  const placed = readings.map((reading): Placed => {
    const at = localTime(reading.takenAtMs, timeZone);
    const missing = Math.max(0, reservedBps - reservedAt(reserved, at.minuteOfDay));
    return {
      reading,
      ...at,
      near: nearSpan(at.minuteOfDay, start.minuteOfDay, lengthMin, surveyRules.windowMin),
      aged: reading.takenAtMs < oldestMs,
      tells: !reading.floor && reading.excluded === null,
      atShowBps: Math.max(0, reading.ownIpBps - missing),
    };
  });
  return { placed, startMinute: start.minuteOfDay, lengthMin, kind: start.kind, reservedBps };
}
