import type { FitProblem } from "@ukaza/contract/fit";
import type { WholeAnswer } from "@ukaza/contract/fitPlan";
import { solve } from "./plan/solve";
import { Pictures, termsOf } from "./plan/terms";
import { planFrom, plannedOf } from "./planFrom";

/** A whole answer, and the destinations whose settings by hand no rule sheet takes: they are laid over the plan as they are. */
export interface AnswerByHand {
  answer: WholeAnswer;
  laidOver: string[];
}

const hasTerms = (problem: FitProblem, i: number): boolean => {
  let id = 0;
  return termsOf(problem, i, new Pictures(), () => id++).length > 0;
};

/**
 * Solves with the crew's own settings. What a rule sheet takes is kept by the plan. What it does not take, or what the lines
 * have no room for, cannot be part of any plan: the plan is made without it and it is laid over, so that the findings and
 * the load lines say what speaks against it.
 */
export function solveByHand(problem: FitProblem): AnswerByHand {
  const byHand = problem.destinations.flatMap((d) => (Object.keys(d.fixed).length > 0 ? [d.id] : []));
  const impossible = problem.destinations.flatMap((d, i) => (byHand.includes(d.id) && !hasTerms(problem, i) ? [d.id] : []));
  const first = laidOverBest(problem, impossible);
  if (first.answer.kind === "fit" || impossible.length === byHand.length) return first;
  const without = laidOverBest(problem, byHand);
  return without.answer.kind === "fit" ? without : first;
}

/** The best plan without some settings by hand, and those laid over it. */
function laidOverBest(problem: FitProblem, laidOver: string[]): AnswerByHand {
  if (laidOver.length === 0) return { answer: solve(problem), laidOver };
  const destinations = problem.destinations.map((d) => (laidOver.includes(d.id) ? { ...d, fixed: {} } : d));
  const answer = solve({ ...problem, destinations });
  if (answer.kind === "none") return { answer, laidOver };
  const planned = plannedOf(answer.plan).map((p) => {
    const fixed = problem.destinations.find((d) => d.id === p.destinationId)?.fixed;
    return p.settings && fixed && laidOver.includes(p.destinationId) ? { ...p, settings: { ...p.settings, ...fixed }, rungs: [] } : p;
  });
  return { answer: { ...answer, plan: planFrom(problem, planned) }, laidOver };
}
