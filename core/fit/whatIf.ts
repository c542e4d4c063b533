import type { FitProblem } from "@ukaza/contract/fit";

/** A question about lines other than those that were measured. */
export interface WhatIf {
  /** What every line carries, as a share of its sustainable rate. */
  lineShare: number;
  /** The share kept free; null: each line's own reserve. */
  reserve: number | null;
}

export const asMeasured: WhatIf = { lineShare: 1, reserve: null };

export const isSupposed = ({ lineShare, reserve }: WhatIf): boolean => lineShare !== 1 || reserve !== null;

/** The reserve that a problem's lines keep on the whole: 1 − usable / sustainable. */
export function reserveOf(problem: FitProblem, sustainableBps: Record<string, number>): number {
  const [usable, whole] = problem.uplinks.reduce(([u, s], l) => [u + l.usableBps, s + (sustainableBps[l.id] ?? l.usableBps)], [0, 0]);
  return whole > 0 ? 1 - usable / whole : 0;
}

/** A problem as it would be. `sustainableBps` by uplink. */
export function supposed(problem: FitProblem, sustainableBps: Record<string, number>, { lineShare, reserve }: WhatIf): FitProblem {
  return {
    ...problem,
    uplinks: problem.uplinks.map((u) => {
      const usable = reserve === null ? u.usableBps : (sustainableBps[u.id] ?? u.usableBps) * (1 - reserve);
      return { ...u, usableBps: Math.max(0, Math.round(usable * lineShare)) };
    }),
  };
}
