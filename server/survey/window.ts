import type { Event } from "@ukaza/contract/event";
import { Refusal } from "@ukaza/contract/problem";
import { readTime } from "@ukaza/core/formats/when";
import { localTime } from "@ukaza/core/survey/localTime";

const DAY_MS = 86_400_000;
const USUAL = { from: "19:30", until: "21:30" };

/** A show on the day of `nearMs` between two times of its clock; one that ends before it begins passes midnight. */
export function windowOn(
  nearMs: number,
  timeZone: string,
  hours: { from?: string | undefined; until?: string | undefined },
): Event["show"] {
  const { from = USUAL.from, until = USUAL.until } = hours;
  const at = (ms: number, clock: string) => {
    const found = readTime(`${localTime(ms, timeZone).day} ${clock}`, timeZone);
    if (found === null)
      throw new Refusal(422, "no-such-time", `${clock} does not exist on that day: the clock went forward over it`, "Choose another time.");
    return found;
  };
  const startMs = at(nearMs, from);
  const sameDay = at(nearMs, until);
  const endMs = sameDay > startMs ? sameDay : at(nearMs + DAY_MS, until);
  return { start: new Date(startMs).toISOString(), end: new Date(endMs).toISOString() };
}
