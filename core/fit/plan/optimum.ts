import type { Model } from "./model";
import { widened } from "./narrowed";
import type { Limits } from "./scope";
import { Search, type SearchResult } from "./search";
import { EPSILON, NOTHING } from "./slack";
import { Supposing } from "./supposing";

/** Shares of the bound that the best answer is supposed to fall short of it at most, before anything else is looked into. */
const SHORTFALLS = [0.01, 0.05, 1] as const;
/** Branches of a last search of everything where the rest gave no answer. */
const LAST_NODES = 100;

/**
 * The best answer within limits. What no answer near the bound can have is left out first; the best of what is left, if it
 * reaches the supposed points, is the best of all, and if there is none, less is left out. Where nothing is near the bound
 * it is first seen whether there is any answer at all. `whole`: the search of everything.
 */
export function search(model: Model, limits: Limits, whole = new Search(model, limits)): SearchResult {
  let { atLeast } = limits;
  if (limits.anyWillDo) return whole.run();
  if (whole.most === NOTHING) return { best: null, bound: NOTHING, proved: true, nodes: 0 };
  const supposing = new Supposing(model, limits, whole.prices);
  let bound = whole.most;
  for (const share of SHORTFALLS) {
    if (share === 1 && atLeast === undefined) {
      const any = new Search(model, { ...limits, anyWillDo: true }).run();
      if (!any.best && any.proved) return any;
      atLeast = any.best?.allocation.points;
    }
    const floor = Math.max(atLeast ?? 0, whole.most * (1 - share));
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
