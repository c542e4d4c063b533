import { sumsOf } from "./sets";

/** Sums of loads that differ by less than this, bit/s, differ by rounding alone. */
const SAME_BPS = 1e-3;

/**
 * Shares feeds out over uplinks so that all fit, with the least load in all, and of as much load over those that stand
 * first: each feed's uplink, by dynamic programming over subsets. `loads` by feed and uplink, bit/s; a feed that is `apart`
 * may not be where the one before it is. null: they do not fit.
 */
export function partitioned(
  loads: readonly Float64Array[],
  apart: readonly boolean[],
  roomBps: readonly number[],
): { loadBps: number; at: number[] } | null {
  const full = (1 << loads.length) - 1;
  const pairs = apart.flatMap((own, i) => (own ? [(1 << i) | (1 << (i - 1))] : []));
  const cost = roomBps.map((room, u) =>
    sumsOf(loads, (list) => list[u] as number).map((load, s) =>
      load > room || pairs.some((both) => (s & both) === both) ? Number.POSITIVE_INFINITY : load,
    ),
  );
  // What the first uplinks take of each subset, and the least it costs there.
  let least = cost[0] as Float64Array;
  const last: Int32Array[] = [];
  for (let u = 1; u < roomBps.length; u++) {
    const own = cost[u] as Float64Array;
    const next = new Float64Array(full + 1).fill(Number.POSITIVE_INFINITY);
    const taken = new Int32Array(full + 1);
    for (let s = u === roomBps.length - 1 ? full : 0; s <= full; s++)
      for (let part = s; ; part = (part - 1) & s) {
        const sum = (own[part] as number) + (least[s & ~part] as number);
        // Of as much load the uplinks that stand first: less on this one, tried last.
        if (sum <= (next[s] as number) + SAME_BPS) {
          next[s] = Math.min(sum, next[s] as number);
          taken[s] = part;
        }
        if (part === 0) break;
      }
    last.push(taken);
    least = next;
  }
  if (!Number.isFinite(least[full] as number)) return null;
  const at = loads.map(() => 0);
  let left = full;
  for (let u = roomBps.length - 1; u > 0; u--) {
    const part = (last[u - 1] as Int32Array)[left] as number;
    for (let i = 0; i < loads.length; i++) if ((part >> i) & 1) at[i] = u;
    left &= ~part;
  }
  return { loadBps: least[full] as number, at };
}
