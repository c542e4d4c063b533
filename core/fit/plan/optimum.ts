import type { Model } from "./model";
import { widened } from "./narrowed";
import type { Limits } from "./scope";
import { Search, type SearchResult } from "./search";
import { EPSILON, NOTHING } from "./slack";
import { Supposing } from "./supposing";

/** Shares of the bound that the best answer is supposed to fall short of it at most, before anything else is looked into. */
const SHORTFALLS = [0.01, 1] as const;
/** Branches of a last search of everything where the rest gave no answer. */
const LAST_NODES = 100;

/** The best answer within limits; that there is any at all is soon known, and only then is the best one looked for. */
export function afresh(model: Model, limits: Limits): SearchResult {
  const first = anyAnswer(model, limits);
  if (!first.best && first.proved) return first;
  return search(model, first.best ? { ...limits, atLeast: first.best.allocation.points } : limits);
}

/** Some answer within limits that serves every `must`. */
export const anyAnswer = (model: Model, limits: Limits): SearchResult => search(model, { ...limits, anyWillDo: true });

/**
 * The best answer within limits. What no answer near the bound can have is left out first; the best of what is left, if it
 * reaches the supposed points, is the best of all, and if there is none, less is left out. `whole`: the search of everything.
 */
export function search(model: Model, limits: Limits, whole = new Search(model, limits)): SearchResult {
  const atLeast = limits.atLeast ?? 0;
  if (limits.anyWillDo) return whole.run();
  if (whole.most === NOTHING) return { best: null, bound: NOTHING, proved: true, nodes: 0 };
  const supposing = new Supposing(model, limits, whole.prices);
  let bound = whole.most;
  for (const share of SHORTFALLS) {
    const floor = Math.max(atLeast, whole.most * (1 - share));
    const narrowing = whole.narrowing(floor);
    if (!narrowing) return whole.run();
    bound = Math.min(bound, narrowing.bound);
    const result = bound < floor - EPSILON ? null : supposing.under([narrowing], floor);
    if (result?.best) return { ...result, best: widened(result.best, model) };
    if (result && !result.proved) break;
    if (floor === atLeast) return { best: null, bound: floor, proved: true, nodes: supposing.nodes };
    bound = floor;
  }
  // Too much for a proof: at least an answer.
  const last = whole.run(LAST_NODES);
  return { ...last, bound: Math.min(last.bound, bound), nodes: supposing.nodes + last.nodes };
}
