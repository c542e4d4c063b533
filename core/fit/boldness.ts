import type { FitProblem } from "@ukaza/contract/fit";
import type { WholePlan } from "@ukaza/contract/fitPlan";
import { solveByHand } from "./byHand";

/** Share of the sustainable rate that a cautious plan keeps free besides the reserve, and a bold one takes of it (rule of thumb). */
export const BOLDER = 0.15;

export type Boldness = "cautious" | "balanced" | "bold";
export const boldnesses: readonly Boldness[] = ["cautious", "balanced", "bold"];

/** A problem with more or less of every line kept free; never more than the line sustains. `sustainableBps` by uplink. */
export function withBoldness(problem: FitProblem, sustainableBps: Record<string, number>, boldness: Boldness): FitProblem {
  if (boldness === "balanced") return problem;
  const sign = boldness === "bold" ? 1 : -1;
  return {
    ...problem,
    uplinks: problem.uplinks.map((u) => {
      const whole = sustainableBps[u.id] ?? u.usableBps;
      return { ...u, usableBps: Math.round(Math.min(whole, Math.max(0, u.usableBps + sign * BOLDER * whole))) };
    }),
  };
}

export interface BoldPlan {
  boldness: Boldness;
  plan: WholePlan | null;
}

/** The best plan of each boldness; null where nothing fits. */
export function boldPlans(problem: FitProblem, sustainableBps: Record<string, number>): BoldPlan[] {
  return boldnesses.map((boldness) => {
    const { answer } = solveByHand(withBoldness(problem, sustainableBps, boldness));
    return { boldness, plan: answer.kind === "fit" ? answer.plan : null };
  });
}
