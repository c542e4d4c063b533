import { bestAt, hullOf } from "./hull";
import { EPSILON } from "./slack";

/** A group's points and loads by bitrate: `q` in millionths, loads by uplink in bit/s, null where nothing is sent. */
export interface Loaded {
  q: Float64Array;
  weight: number;
  loads: readonly (Float64Array | null)[];
  /** Where every feed has the same table: that table and how many feeds each uplink carries. */
  even: { table: Float64Array; feeds: readonly number[] } | null;
}

/** Bitrates of groups: for each the index into its make's list. `points` in millionths, `loadBps` over all uplinks. */
export interface Allocation {
  points: number;
  loadBps: number;
  at: number[];
}

interface State {
  points: number;
  loadBps: number;
  used: number[];
  at: number;
  before: State | null;
}

/** Groups that share an uplink, directly or by way of others, are one part; parts are independent of each other. */
function partsOf(groups: readonly Loaded[], uplinks: number): { groups: number[]; uplinks: number[] }[] {
  const root = Array.from({ length: uplinks }, (_, u) => u);
  const find = (u: number): number => (root[u] === u ? u : find(root[u] as number));
  const usedBy = groups.map((g) => g.loads.flatMap((table, u) => (table ? [u] : [])));
  for (const used of usedBy) for (const u of used) root[find(u)] = find(used[0] as number);
  const parts = new Map<number, { groups: number[]; uplinks: number[] }>();
  usedBy.forEach((used, g) => {
    const key = used[0] === undefined ? -1 - g : find(used[0]);
    const part = parts.get(key) ?? { groups: [], uplinks: [] };
    part.groups.push(g);
    for (const u of used) if (!part.uplinks.includes(u)) part.uplinks.push(u);
    parts.set(key, part);
  });
  return [...parts.values()];
}

/** Best of a group at given prices, points a bit/s by uplink: its reduced value and the bitrate's index. */
function reduced(g: Loaded, prices: readonly number[]): { value: number; at: number } {
  if (g.even) {
    const { table, feeds } = g.even;
    let price = 0;
    for (let u = 0; u < prices.length; u++) price += (feeds[u] as number) * (prices[u] as number);
    const at = bestAt(hullOf(table, g.q, g.q.length - 1), g.weight, price);
    return { value: g.weight * (g.q[at] as number) - price * (table[at] as number), at };
  }
  let value = Number.NEGATIVE_INFINITY;
  let best = 0;
  for (let i = 0; i < g.q.length; i++) {
    let v = g.weight * (g.q[i] as number);
    for (let u = 0; u < prices.length; u++) {
      const load = g.loads[u]?.[i] ?? 0;
      v -= load === Number.POSITIVE_INFINITY ? load : (prices[u] as number) * load;
    }
    if (v > value) {
      value = v;
      best = i;
    }
  }
  return { value, at: best };
}

/** Dual value and usage of a part at given prices. */
function dual(part: readonly Loaded[], prices: number[], room: readonly number[]) {
  let value = 0;
  const used = room.map(() => 0);
  for (let u = 0; u < room.length; u++) value += (prices[u] as number) * (room[u] as number);
  const at: number[] = [];
  for (const g of part) {
    const best = reduced(g, prices);
    value += best.value;
    at.push(best.at);
    for (let u = 0; u < used.length; u++) used[u] = (used[u] as number) + (g.loads[u]?.[best.at] ?? 0);
  }
  return { value, used, at };
}

/** Prices that make the bound of a part small: each uplink's in turn until its feeds just fit. */
function priced(part: readonly Loaded[], uplinks: readonly number[], start: readonly number[], room: readonly number[]) {
  const prices = start.map((p, u) => (uplinks.includes(u) ? p : 0));
  let best = dual(part, prices, room);
  let bestPrices = [...prices];
  const sweeps = uplinks.length === 1 ? 1 : 3;
  for (let sweep = 0; sweep < sweeps; sweep++)
    for (const u of uplinks) {
      let low = 0;
      let high = Math.max(1, 2 * (prices[u] as number));
      const over = (price: number) => {
        prices[u] = price;
        const now = dual(part, prices, room);
        if (now.value < best.value) [best, bestPrices] = [now, [...prices]];
        return (now.used[u] as number) > (room[u] as number);
      };
      while (over(high) && high < 1e6) [low, high] = [high, high * 4];
      for (let i = 0; i < 24 && high - low > 1e-4 * high; i++) {
        const middle = (low + high) / 2;
        if (over(middle)) low = middle;
        else high = middle;
      }
      prices[u] = high;
    }
  return { best, prices: bestPrices };
}

/** A good allocation that fits, from the priced one: step down where it costs least, then up where it gives most. */
function rounded(part: readonly Loaded[], from: readonly number[], room: readonly number[]): number[] | null {
  const at = [...from];
  const used = room.map((_, u) => part.reduce((sum, g, i) => sum + (g.loads[u]?.[at[i] as number] ?? 0), 0));
  const move = (i: number, to: number) => {
    part[i]?.loads.forEach((table, u) => {
      if (table) used[u] = (used[u] as number) + (table[to] as number) - (table[at[i] as number] as number);
    });
    at[i] = to;
  };
  for (let guard = 0; guard < 10_000 && used.some((load, u) => load > (room[u] as number)); guard++) {
    let best = -1;
    let least = Number.POSITIVE_INFINITY;
    part.forEach((g, i) => {
      const now = at[i] as number;
      if (now === 0 || !g.loads.some((table, u) => table && (used[u] as number) > (room[u] as number))) return;
      const loss = g.weight * ((g.q[now] as number) - (g.q[now - 1] as number));
      if (loss < least) [best, least] = [i, loss];
    });
    if (best < 0) return null;
    move(best, (at[best] as number) - 1);
  }
  for (let guard = 0; guard < 10_000; guard++) {
    let best = -1;
    let most = 0;
    part.forEach((g, i) => {
      const now = at[i] as number;
      if (now + 1 >= g.q.length) return;
      const fits = g.loads.every(
        (table, u) => !table || (used[u] as number) + (table[now + 1] as number) - (table[now] as number) <= (room[u] as number),
      );
      const gain = g.weight * ((g.q[now + 1] as number) - (g.q[now] as number));
      if (fits && gain > most) [best, most] = [i, gain];
    });
    if (best < 0) break;
    move(best, (at[best] as number) + 1);
  }
  return at;
}

/** States that no other beats both in points and in load on every uplink. Only some are compared when there are many: pruning is a help, not a must. */
const COMPARED = 60;
function undominated(states: State[], uplinks: readonly number[]): State[] {
  const [only] = uplinks;
  if (uplinks.length === 1 && only !== undefined) {
    states.sort((a, b) => (a.used[only] as number) - (b.used[only] as number) || b.points - a.points || a.loadBps - b.loadBps);
    const kept: State[] = [];
    let points = Number.NEGATIVE_INFINITY;
    for (const s of states)
      if (s.points > points) {
        kept.push(s);
        points = s.points;
      }
    return kept;
  }
  states.sort((a, b) => b.points - a.points || a.loadBps - b.loadBps);
  const kept: State[] = [];
  for (const s of states) {
    const from = Math.max(0, kept.length - COMPARED);
    let beaten = false;
    for (let i = from; i < kept.length && !beaten; i++) {
      const k = kept[i] as State;
      beaten = k.loadBps <= s.loadBps && uplinks.every((u) => (k.used[u] as number) <= (s.used[u] as number));
    }
    if (!beaten) kept.push(s);
  }
  return kept;
}

/** The exact best of one part: group by group, dropping what can no longer reach `floor` points. */
function bestOfPart(
  part: readonly Loaded[],
  uplinks: readonly number[],
  prices: readonly number[],
  room: readonly number[],
  floor: number,
): State | null {
  const rest = new Array<number>(part.length + 1).fill(0);
  const needs = Array.from({ length: part.length + 1 }, () => room.map(() => 0));
  for (let i = part.length - 1; i >= 0; i--) {
    const g = part[i] as Loaded;
    rest[i] = (rest[i + 1] as number) + reduced(g, prices).value;
    needs[i] = room.map((_, u) => (needs[i + 1]?.[u] as number) + (g.loads[u]?.[0] ?? 0));
  }
  let states: State[] = [{ points: 0, loadBps: 0, used: room.map(() => 0), at: -1, before: null }];
  part.forEach((g, n) => {
    const next: State[] = [];
    for (const s of states)
      for (let i = 0; i < g.q.length; i++) {
        const points = s.points + g.weight * (g.q[i] as number);
        let bound = points + (rest[n + 1] as number);
        let loadBps = s.loadBps;
        let fits = true;
        const used = [...s.used];
        for (const u of uplinks) {
          const table = g.loads[u];
          if (table) {
            used[u] = (used[u] as number) + (table[i] as number);
            loadBps += table[i] as number;
          }
          if ((used[u] as number) + (needs[n + 1]?.[u] as number) > (room[u] as number)) fits = false;
          bound += (prices[u] as number) * ((room[u] as number) - (used[u] as number));
        }
        if (fits && bound >= floor - EPSILON) next.push({ points, loadBps, used, at: i, before: s });
      }
    states = undominated(next, uplinks);
  });
  let best: State | null = null;
  for (const s of states) if (!best || s.points > best.points || (s.points === best.points && s.loadBps < best.loadBps)) best = s;
  return best;
}

/**
 * The exact best bitrates of groups whose pictures, engines and ways are settled: most points, then least load. null:
 * they do not fit, or cannot reach `atLeast` points.
 */
export function allocate(groups: readonly Loaded[], room: readonly number[], start: readonly number[], atLeast: number): Allocation | null {
  const at = new Array<number>(groups.length).fill(0);
  const parts = partsOf(groups, room.length).map(({ groups: indexes, uplinks }) => {
    const part = indexes.map((i) => groups[i] as Loaded);
    const top = part.map((g) => g.q.length - 1);
    const fits = uplinks.every((u) => part.reduce((sum, g, i) => sum + (g.loads[u]?.[top[i] as number] ?? 0), 0) <= (room[u] as number));
    if (fits)
      return {
        indexes,
        part,
        uplinks,
        prices: null,
        bound: part.reduce((sum, g, i) => sum + g.weight * (g.q[top[i] as number] as number), 0),
        from: top,
      };
    const { best, prices } = priced(part, uplinks, start, room);
    return { indexes, part, uplinks, prices, bound: best.value, from: best.at };
  });
  let total = parts.reduce((sum, p) => sum + p.bound, 0);
  let points = 0;
  let loadBps = 0;
  for (const { indexes, part, uplinks, prices, bound, from } of parts) {
    if (total < atLeast - EPSILON) return null;
    const good = prices === null ? from : rounded(part, from, room);
    const value = (chosen: readonly number[]) => part.reduce((sum, g, i) => sum + g.weight * (g.q[chosen[i] as number] as number), 0);
    const needed = atLeast - (total - bound);
    let chosen = good;
    if (prices !== null) {
      const floor = Math.max(needed, good ? value(good) : Number.NEGATIVE_INFINITY);
      let state = bestOfPart(part, uplinks, prices, room, floor);
      if (!state) return null;
      chosen = new Array<number>(part.length);
      for (let i = part.length - 1; i >= 0 && state; i--) {
        chosen[i] = state.at;
        state = state.before;
      }
    }
    if (!chosen) return null;
    const own = value(chosen);
    total += own - bound;
    points += own;
    part.forEach((g, i) => {
      const index = chosen?.[i] as number;
      at[indexes[i] as number] = index;
      for (const table of g.loads) if (table) loadBps += table[index] as number;
    });
  }
  return points < atLeast ? null : { points, loadBps, at };
}
