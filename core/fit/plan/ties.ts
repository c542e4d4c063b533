import type { Group } from "./groups";
import type { Taker } from "./model";
import type { Found } from "./search";
import { type Spot, topOf, type Way } from "./spots";

/**
 * Whether a node whose bound is just the best answer's points may still need fewer engines or less load. With no uplink
 * priced every part must be at its very top to come to these points, so engines and load can be counted from below: who
 * can share with nobody at the top needs an engine.
 */
export function tieCanWin(
  n: { depth: number; groups: readonly Group[] },
  order: readonly Taker[],
  spots: readonly Spot[][],
  best: Found,
  passed: (n: { depth: number; groups: readonly Group[] }, t: Taker) => number,
): boolean {
  let engines = n.groups.reduce((sum, g) => sum + g.make.engines * g.encoders.length, 0);
  let loadBps = 0;
  const tops = n.groups.map((g) => ({ picture: g.make.picture, bps: g.make.bps[g.last] as number, shared: g.make.engines === 1 }));
  const lightest = (ways: readonly Way[] | null, at: number) =>
    ways === null
      ? 0
      : Math.min(...ways.filter((w) => w.last >= at).map((w) => w.tables.reduce((sum, table) => sum + (table[at] as number), 0)));
  for (const g of n.groups) for (const member of g.members) loadBps += lightest(member.ways, g.last);
  for (let i = n.depth; i < order.length; i++) {
    const t = order[i] as Taker;
    const own = spots[t.index] ?? [];
    const top = own.length === 0 ? 0 : t.weight * topOf(own[0] as Spot);
    if (t.weight === 0 || passed(n, t) >= top) continue;
    let least = Number.POSITIVE_INFINITY;
    let joins = false;
    const mine: typeof tops = [];
    for (const spot of own) {
      if (t.weight * topOf(spot) < top) break;
      const last = Math.max(...spot.ways.map((w) => w.last));
      const bps = spot.make.bps[last] as number;
      least = Math.min(least, lightest(spot.ways, last));
      if (!t.ladder && tops.some((k) => k.shared && k.picture === spot.terms.picture && k.bps >= bps)) joins = true;
      mine.push({ picture: spot.terms.picture, bps, shared: !t.ladder });
    }
    if (own.length === 0) continue;
    loadBps += least;
    if (joins) continue;
    engines += 1;
    tops.push(...mine);
  }
  return engines < best.engines || (engines === best.engines && loadBps < best.allocation.loadBps - 0.5);
}
