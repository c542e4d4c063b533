import type { ReservedHours } from "@ukaza/contract/venue";
import { clockMinute } from "./localTime";

const covers = (hours: ReservedHours, minute: number): boolean => {
  const [from, until] = [clockMinute(hours.from), clockMinute(hours.until)];
  return from < until ? minute >= from && minute < until : minute >= from || minute < until;
};

/** What is set aside for others at a minute of the day, bit/s. */
export function reservedAt(reserved: readonly ReservedHours[], minuteOfDay: number): number {
  let sum = 0;
  for (const hours of reserved) if (covers(hours, minuteOfDay)) sum += hours.rateBps;
  return sum;
}

/** The most that is set aside at any minute of a span of the clock, bit/s. It can only rise where one of the hours begins. */
export function reservedDuring(reserved: readonly ReservedHours[], startMinute: number, lengthMin: number): number {
  const inside = reserved
    .map((hours) => clockMinute(hours.from))
    .filter((from) => (((from - startMinute) % 1440) + 1440) % 1440 < lengthMin);
  return Math.max(0, ...[startMinute, ...inside].map((minute) => reservedAt(reserved, minute)));
}
