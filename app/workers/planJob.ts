import type { FitProblem } from "@ukaza/contract/fit";
import type { Insights, WholePlan } from "@ukaza/contract/fitPlan";
import { type BoldPlan, boldPlans } from "@ukaza/core/fit/boldness";
import { type AnswerByHand, solveByHand } from "@ukaza/core/fit/byHand";
import { insightsOf } from "@ukaza/core/fit/plan/insights";
import { type PlanStep, planSteps, worthwhileBps } from "@ukaza/core/fit/planSteps";
import type { ApiError } from "../data/api";

/** What is asked of the fit beside the page. */
export type PlanJob =
  | { kind: "answer"; problem: FitProblem }
  | { kind: "insights"; problem: FitProblem; plan: WholePlan }
  | { kind: "bold"; problem: FitProblem; sustainableBps: Record<string, number> }
  | { kind: "steps"; problem: FitProblem; uplinkId: string };

/** What comes back: how far it is, then the whole. */
export type PlanSaid =
  | { kind: "progress"; share: number }
  | { kind: "answer"; found: AnswerByHand }
  | { kind: "insights"; insights: Insights }
  | { kind: "bold"; plans: BoldPlan[] }
  | { kind: "steps"; steps: PlanStep[] };

/** What whoever asked hears: what comes back, or that nothing will. */
export type PlanHeard = PlanSaid | { kind: "failed"; error: ApiError };

/** Does a job; `say` hears of it, at last with the whole. */
export function doPlanJob(job: PlanJob, say: (said: PlanSaid) => void): void {
  const progress = (share: number) => say({ kind: "progress", share });
  if (job.kind === "answer") say({ kind: "answer", found: solveByHand(job.problem) });
  else if (job.kind === "insights") say({ kind: "insights", insights: insightsOf(job.problem, job.plan, progress) });
  else if (job.kind === "bold") say({ kind: "bold", plans: boldPlans(job.problem, job.sustainableBps) });
  else {
    const wholeBps = job.problem.uplinks.find((u) => u.id === job.uplinkId)?.usableBps ?? 1;
    const steps: PlanStep[] = [];
    for (const step of planSteps(job.problem, job.uplinkId, worthwhileBps(wholeBps))) {
      steps.push(step);
      progress(1 - step.fromBps / wholeBps);
    }
    say({ kind: "steps", steps });
  }
}
