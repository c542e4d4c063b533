import type { FitProblem } from "@ukaza/contract/fit";
import type { WholePlan } from "@ukaza/contract/fitPlan";
import { compile } from "./plan/model";
import { Sinking } from "./plan/sinking";
import { limitsOf, planOf } from "./plan/solve";

/** The best plan while one uplink carries at least `fromBps` (bit/s at the IP layer), the other uplinks as they are. */
export interface PlanStep {
  fromBps: number;
  plan: WholePlan;
  /** No search was cut short: there is no better plan at this rate. */
  proved: boolean;
}

/**
 * The best plans of a problem along the falling rate of one uplink, the highest first. A best plan stays the best for as
 * long as its own load fits: the next one is asked for at one bit per second less than that, so none is left out; or at the
 * next multiple of `everyBps` below, so that none is left out that holds for so much of the line.
 */
export function* planSteps(problem: FitProblem, uplinkId: string, everyBps = 1): Generator<PlanStep> {
  const uplink = problem.uplinks.find((u) => u.id === uplinkId);
  if (!uplink) throw new RangeError(`there is no uplink "${uplinkId}" in this problem`);
  const model = compile(problem);
  const sinking = new Sinking(model, limitsOf(problem));
  let lowestBps = uplink.usableBps + 1;
  for (let rateBps = uplink.usableBps; rateBps >= 0; ) {
    const uplinks = problem.uplinks.map((u) => (u.id === uplinkId ? { ...u, usableBps: rateBps } : u));
    const { best, proved } = sinking.at(uplinks.map((u) => u.usableBps));
    if (!best) {
      // Where all ends is told to the bit.
      if (rateBps >= lowestBps - 1) return;
      rateBps = lowestBps - 1;
      continue;
    }
    const plan = planOf({ ...model, problem: { ...problem, uplinks } }, best);
    const loadBps = plan.uplinks.find((u) => u.uplinkId === uplinkId)?.loadBps ?? 0;
    const fromBps = Math.min(rateBps, loadBps);
    yield { fromBps, plan, proved };
    lowestBps = fromBps;
    rateBps = Math.floor((fromBps - 1) / everyBps) * everyBps;
  }
}

/** Steps of one kind as a row: the same pictures over the same ways, the bitrates falling from `top` to `bottom`. */
export interface PlanRow {
  top: PlanStep;
  bottom: PlanStep;
}

/** What tells plans apart for whoever must change over: who is served with which picture, and over which uplinks. */
const kindOf = ({ destinations }: WholePlan): string =>
  JSON.stringify(
    destinations.map(({ settings: s, feeds, through }) =>
      s ? [s.width, s.height, s.frameRate, s.codec, through, feeds.map((f) => [f.role, f.encoderId, f.uplinkId])] : null,
    ),
  );

/**
 * Line rate, bit/s, for which a plan must hold to be worth falling to: one step of most encoders, or one part in a hundred of
 * what the line carries; less is gone before anybody has changed it (rule of thumb).
 */
export const worthwhileBps = (usableBps: number): number => Math.max(100_000, Math.round(usableBps / 100));

/** Steps gathered into rows, the highest rate first; rows that hold for less than `leastBps` of line rate are left out. */
export function planRows(steps: readonly PlanStep[], leastBps = 0): PlanRow[] {
  const rows: PlanRow[] = [];
  for (const step of steps) {
    const row = rows.at(-1);
    if (row && kindOf(row.bottom.plan) === kindOf(step.plan)) row.bottom = step;
    else rows.push({ top: step, bottom: step });
  }
  return rows.filter((row, i) => i === 0 || (rows[i - 1]?.bottom.fromBps ?? 0) - row.bottom.fromBps >= leastBps);
}
