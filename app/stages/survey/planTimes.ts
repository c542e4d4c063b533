import { MOST_PLANNED } from "@ukaza/contract/lineTest";
import type { Survey } from "@ukaza/contract/survey";
import { clockTime } from "@ukaza/contract/venue";
import { readTime } from "@ukaza/core/formats/when";
import { localTime } from "@ukaza/core/survey/localTime";
import { timesEvery } from "@ukaza/core/survey/testPlan";

const DAY_MS = 86_400_000;

/** What a person typed: every so many minutes between two times, or a list of times; today, or each day until the show. */
export interface TypedPlan {
  kind: "every" | "list";
  from: string;
  until: string;
  everyMin: string;
  list: string;
  days: "today" | "until the show";
}

/** The times of a plan, ms since the epoch, or what is wrong with it. */
export function planTimes(plan: TypedPlan, show: Survey["show"], timeZone: string, nowMs: number): { times: number[] } | { wrong: string } {
  const lastMs = plan.days === "today" ? nowMs : Math.max(nowMs, Date.parse(show.end));
  const lastDay = localTime(lastMs, timeZone).day;
  const days: string[] = [];
  // From noon to noon, so that a change of the clock cannot skip a day.
  for (let ms = nowMs; days.length < 60; ms += DAY_MS) {
    const { day } = localTime(ms, timeZone);
    if (day > lastDay) break;
    if (days.at(-1) !== day) days.push(day);
  }
  const at = (day: string, clock: string) => readTime(`${day} ${clock}`, timeZone);
  const showEndMs = Date.parse(show.end);
  if (plan.kind === "list") {
    const clocks = plan.list.split(/[\s,;]+/).filter(Boolean);
    const odd = clocks.find((clock) => !clockTime.safeParse(clock).success);
    if (odd) return { wrong: `"${odd}" is not a time of day; write 18:00, 18:30.` };
    const times = days.flatMap((day) => clocks.flatMap((clock) => at(day, clock) ?? []));
    return judged(times.filter((ms) => ms > nowMs && (plan.days === "today" || ms <= showEndMs)));
  }
  const everyMin = Number(plan.everyMin);
  if (!Number.isInteger(everyMin) || everyMin < 1 || everyMin > 720) return { wrong: "Give whole minutes from 1 to 720." };
  if (!clockTime.safeParse(plan.from).success || !clockTime.safeParse(plan.until).success)
    return { wrong: "Write the times of day as 19:30." };
  const times = days.flatMap((day) => {
    const [fromMs, untilMs] = [at(day, plan.from), at(day, plan.until)];
    if (fromMs === null || untilMs === null) return [];
    return timesEvery(fromMs, untilMs < fromMs ? untilMs + DAY_MS : untilMs, everyMin, nowMs, MOST_PLANNED + 1);
  });
  return judged(times.filter((ms) => plan.days === "today" || ms <= showEndMs));
}

function judged(times: number[]): { times: number[] } | { wrong: string } {
  if (times.length === 0) return { wrong: "All of these times have gone by. Choose later ones." };
  if (times.length > MOST_PLANNED) return { wrong: `That is more than ${MOST_PLANNED} tests. Choose fewer.` };
  return { times };
}
