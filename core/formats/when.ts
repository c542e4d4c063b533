import { offsetMin } from "../survey/localTime";

/** In which order a date's parts stand where their names do not tell: day first or month first. */
export type DateOrder = "dmy" | "mdy";

export type Moment =
  | { kind: "instant"; ms: number; twice: boolean }
  | { kind: "wrong"; why: "shape" | "no such day" | "skipped hour" | "order unknown" };

const clock = String.raw`(\d{1,2}):(\d{2})(?::(\d{2})(?:[.,](\d{1,3})\d*)?)?\s*([ap]\.?m\.?)?\s*(Z|[+-]\d{2}:?\d{2})?`;
const yearFirst = new RegExp(String.raw`^(\d{4})([-/.])(\d{1,2})\2(\d{1,2})(?:T|,?\s+)${clock}$`, "i");
const yearLast = new RegExp(String.raw`^(\d{1,2})([-/.])(\d{1,2})\2(\d{4}|\d{2})(?:T|,?\s+)${clock}$`, "i");
const epoch = /^\d{10}(?:\d{3})?$/;

const wrong = (why: Extract<Moment, { kind: "wrong" }>["why"]): Moment => ({ kind: "wrong", why });

/** Whether a date leaves open which part is the day: the two parts, or null where there is nothing to ask. */
export function openOrder(text: string): { first: number; second: number } | null {
  const match = yearLast.exec(text.trim());
  // Parts divided by points stand day first wherever they are written so.
  return match && match[2] !== "." ? { first: Number(match[1]), second: Number(match[3]) } : null;
}

/**
 * Reads a time: "2026-06-10 19:30", "10/06/2026 7:30 pm", "10.06.26 19:30:05", with Z or an offset, or seconds or
 * milliseconds since 1970. Without an offset it is read on the clock of `timeZone`; a clock time that comes twice in
 * the night of autumn is taken as the first of the two and says so, one that spring skips is wrong.
 */
export function readMoment(text: string, timeZone: string, order?: DateOrder): Moment {
  const trimmed = text.trim();
  if (epoch.test(trimmed)) return { kind: "instant", ms: Number(trimmed) * (trimmed.length === 10 ? 1000 : 1), twice: false };
  const first = yearFirst.exec(trimmed);
  if (first) return momentOf(Number(first[1]), Number(first[3]), Number(first[4]), first.slice(5), timeZone);
  const last = yearLast.exec(trimmed);
  if (!last) return wrong("shape");
  const known = last[2] === "." ? "dmy" : order;
  if (!known) return wrong("order unknown");
  const [day, month] = known === "dmy" ? [last[1], last[3]] : [last[3], last[1]];
  const year = Number(last[4]) + (last[4]?.length === 2 ? 2000 : 0);
  return momentOf(year, Number(month), Number(day), last.slice(5), timeZone);
}

function momentOf(year: number, month: number, day: number, rest: (string | undefined)[], timeZone: string): Moment {
  const [hours, minutes, seconds = "0", fraction = "0", half, offset] = rest;
  let hour = Number(hours);
  if (half) {
    if (hour < 1 || hour > 12) return wrong("shape");
    hour = (hour % 12) + (half.toLowerCase().startsWith("p") ? 12 : 0);
  }
  if (hour > 23 || Number(minutes) > 59 || Number(seconds) > 59) return wrong("shape");
  const wallMs = Date.UTC(year, month - 1, day, hour, Number(minutes), Number(seconds), Number(fraction.padEnd(3, "0")));
  const check = new Date(wallMs);
  // Date.UTC rolls 31 June over to 1 July; such a time was mistyped.
  if (check.getUTCMonth() !== month - 1 || check.getUTCDate() !== day || year < 1970) return wrong("no such day");
  if (offset === undefined) return onTheWall(wallMs, timeZone);
  if (offset.toUpperCase() === "Z") return { kind: "instant", ms: wallMs, twice: false };
  const ahead = Number(offset.slice(1, 3)) * 60 + Number(offset.slice(-2));
  return { kind: "instant", ms: wallMs - (offset.startsWith("-") ? -ahead : ahead) * 60_000, twice: false };
}

const HALF_DAY_MS = 43_200_000;

/** The instants at which a clock of the zone shows this wall time: one, two in autumn, none in spring. */
function onTheWall(wallMs: number, timeZone: string): Moment {
  const around = new Set([
    offsetMin(wallMs - HALF_DAY_MS, timeZone),
    offsetMin(wallMs + HALF_DAY_MS, timeZone),
    offsetMin(wallMs, timeZone),
  ]);
  const found = [...around].map((offset) => wallMs - offset * 60_000).filter((ms) => ms + offsetMin(ms, timeZone) * 60_000 === wallMs);
  if (found.length === 0) return wrong("skipped hour");
  return { kind: "instant", ms: Math.min(...found), twice: found.length > 1 };
}

/** The same for a single time that a person typed; ms since the epoch, or null for what is no time. */
export function readTime(text: string, timeZone: string): number | null {
  const moment = readMoment(text, timeZone);
  return moment.kind === "instant" ? moment.ms : null;
}
