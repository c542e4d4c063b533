import { TZDate } from "@date-fns/tz";

const shape = /^(\d{4})-(\d{2})-(\d{2})[T ](\d{2}):(\d{2})(?::(\d{2})(?:\.(\d{1,3})\d*)?)?\s*(Z|[+-]\d{2}:?\d{2})?$/;

/**
 * Reads "2026-06-10 19:30", with or without seconds, and with Z or an offset.
 * Without one, the time is read on the clock of `timeZone`. Gives ms since the epoch, or null for what is no time.
 */
export function readTime(text: string, timeZone: string): number | null {
  const match = shape.exec(text.trim());
  if (!match) return null;
  const [year, month, day, hour, minute, second] = match.slice(1, 7).map((part) => Number(part ?? 0)) as [
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const millisecond = Number((match[7] ?? "0").padEnd(3, "0"));
  const asUtc = Date.UTC(year, month - 1, day, hour, minute, second, millisecond);
  const check = new Date(asUtc);
  // Date.UTC rolls 31 June over to 1 July; such a time was mistyped.
  if (check.getUTCMonth() !== month - 1 || check.getUTCDate() !== day || hour > 23 || minute > 59 || second > 59) return null;
  const offset = match[8];
  if (offset === undefined) return new TZDate(year, month - 1, day, hour, minute, second, millisecond, timeZone).getTime();
  if (offset === "Z") return asUtc;
  const minutes = Number(offset.slice(1, 3)) * 60 + Number(offset.slice(-2));
  return asUtc - (offset.startsWith("-") ? -minutes : minutes) * 60_000;
}
