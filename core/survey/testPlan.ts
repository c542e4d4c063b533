import type { LineTest } from "@ukaza/contract/lineTest";
import { localTime, nearSpan } from "./localTime";
import type { SurveyQuestion } from "./place";
import { surveyRules } from "./rules";

const MINUTE_MS = 60_000;

/** Every `everyMin` minutes from one instant until another, ms since the epoch; what lies before `nowMs` is left out. */
export function timesEvery(fromMs: number, untilMs: number, everyMin: number, nowMs: number, most: number): number[] {
  const times: number[] = [];
  for (let at = fromMs; at <= untilMs && times.length < most; at += everyMin * MINUTE_MS) if (at > nowMs) times.push(at);
  return times;
}

/** How many of these times are near the show's hours, and how many of those on its kind of day. */
export function nearShowCount(timesMs: readonly number[], { show, timeZone }: Pick<SurveyQuestion, "show" | "timeZone">) {
  const start = localTime(show.start, timeZone);
  const lengthMin = (Date.parse(show.end) - Date.parse(show.start)) / MINUTE_MS;
  const placed = timesMs.map((ms) => localTime(ms, timeZone));
  const near = placed.filter((at) => nearSpan(at.minuteOfDay, start.minuteOfDay, lengthMin, surveyRules.windowMin));
  return { near: near.length, sameKind: near.filter((at) => at.kind === start.kind).length };
}

/** Later than this, a planned test is one that the server slept through. */
const LATE_MS = 2 * MINUTE_MS;

/** Planned tests whose time has come, and those whose time has gone by. */
export function dueNow(tests: readonly Pick<LineTest, "id" | "dueAt" | "state">[], nowMs: number): { due: string[]; missed: string[] } {
  const open = tests.filter((t) => t.state === "planned" && Date.parse(t.dueAt) <= nowMs);
  return {
    due: open.filter((t) => nowMs - Date.parse(t.dueAt) <= LATE_MS).map((t) => t.id),
    missed: open.filter((t) => nowMs - Date.parse(t.dueAt) > LATE_MS).map((t) => t.id),
  };
}

/** Seconds of full upload in a built-in test, of which the first are slow start, and its probes. */
export const testShape = { uploadS: 12, connections: 4, probes: 250, probeEveryMs: 20, probeBytes: 160 } as const;

/** What one built-in test sends at a rate, bytes (seconds × rate, with the probes). */
export function testBytes(rateBps: number): number {
  return Math.round((testShape.uploadS * rateBps) / 8 + testShape.probes * (testShape.probeBytes + 28));
}
