import type { Hull } from "./hull";

/** A feed to be put on one of the uplinks. */
export interface Cargo {
  /** Points of one millionth of Q. */
  weight: number;
  hull: Hull;
  table: Float64Array;
  q: Float64Array;
  /** Uplinks that may carry it, as bits. */
  uplinks: number;
  /** Place of the main feed that this one backs up: it goes over a later uplink; −1: it is a main feed. */
  backs: number;
}

/** More feeds than this have too many subsets to look at each. */
export const MOST_CARGO = 12;

/**
 * Most points of every subset of feeds on one uplink, if bitrates could lie between steps (the linear relaxation of the
 * multiple-choice knapsack: the steepest pieces of the hulls first). −Infinity: the lightest bitrates are too heavy.
 */
function subsetPoints(cargo: readonly Cargo[], uplink: number, roomBps: number): Float64Array {
  const pieces: { item: number; load: number; points: number }[] = [];
  const count = cargo.length;
  cargo.forEach(({ weight, hull, table, q }, item) => {
    for (let n = 1; n < hull.at.length; n++) {
      const [from, to] = [hull.at[n - 1] as number, hull.at[n] as number];
      pieces.push({ item, load: (table[to] as number) - (table[from] as number), points: weight * ((q[to] as number) - (q[from] as number)) });
    }
  });
  pieces.sort((a, b) => b.points / b.load - a.points / a.load);
  const item = Int32Array.from(pieces, (p) => 1 << p.item);
  const load = Float64Array.from(pieces, (p) => p.load);
  const gain = Float64Array.from(pieces, (p) => p.points);
  const baseLoad = cargo.map((c) => c.table[c.hull.at[0] as number] as number);
  const basePoints = cargo.map((c) => c.weight * (c.q[c.hull.at[0] as number] as number));
  const allowed = cargo.reduce((mask, c, i) => ((c.uplinks >> uplink) & 1 ? mask | (1 << i) : mask), 0);
  const points = new Float64Array(1 << count).fill(Number.NEGATIVE_INFINITY);
  for (let subset = 0; subset < points.length; subset++) {
    if ((subset & ~allowed) !== 0) continue;
    let left = roomBps;
    let sum = 0;
    let paired = false;
    for (let i = 0; i < count; i++) {
      if (!((subset >> i) & 1)) continue;
      left -= baseLoad[i] as number;
      sum += basePoints[i] as number;
      const { backs } = cargo[i] as Cargo;
      if (backs >= 0 && (subset >> backs) & 1) paired = true;
    }
    if (left < 0 || paired) continue;
    for (let p = 0; p < item.length; p++) {
      if (!((item[p] as number) & subset)) continue;
      const piece = load[p] as number;
      if (piece > left) {
        sum += (gain[p] as number) * (left / piece);
        break;
      }
      left -= piece;
      sum += gain[p] as number;
    }
    points[subset] = sum;
  }
  return points;
}

/**
 * Gives every way to share feeds out over the uplinks that may reach `floor()` points, the most promising first; `floor`
 * may rise meanwhile. Each is told as the uplink of every feed.
 */
export function eachPartition(cargo: readonly Cargo[], roomBps: readonly number[], floor: () => number, tell: (uplinkOf: readonly number[]) => void): void {
  const all = (1 << cargo.length) - 1;
  const own = roomBps.map((room, u) => subsetPoints(cargo, u, room));
  // best[u][S]: most points of S over the uplinks from u on.
  const last = roomBps.length - 1;
  const best: Float64Array[] = [];
  best[last] = own[last] as Float64Array;
  for (let u = last - 1; u >= 0; u--) {
    const here = own[u] as Float64Array;
    const rest = best[u + 1] as Float64Array;
    const sums = new Float64Array(all + 1).fill(Number.NEGATIVE_INFINITY);
    for (let subset = u === 0 ? all : 0; subset <= all; subset++)
      for (let part = subset; ; part = (part - 1) & subset) {
        const points = (here[part] as number) + (rest[subset ^ part] as number);
        if (points > (sums[subset] as number)) sums[subset] = points;
        if (part === 0) break;
      }
    best[u] = sums;
  }
  const uplinkOf = cargo.map(() => 0);
  const mains = cargo.reduce((mask, c, i) => (c.backs >= 0 ? mask | (1 << i) : mask), 0);
  const visit = (u: number, left: number, points: number): void => {
    if (u > last) {
      if (left === 0) tell(uplinkOf);
      return;
    }
    const here = own[u] as Float64Array;
    const rest = best[u + 1];
    const parts: { part: number; bound: number }[] = [];
    for (let part = left; ; part = (part - 1) & left) {
      const after = left ^ part;
      const ahead = rest ? (rest[after] as number) : after === 0 ? 0 : Number.NEGATIVE_INFINITY;
      const bound = points + (here[part] as number) + ahead;
      if (bound >= floor() && inTurn(part, left)) parts.push({ part, bound });
      if (part === 0) break;
    }
    parts.sort((a, b) => b.bound - a.bound);
    for (const { part, bound } of parts) {
      if (bound < floor()) break;
      for (let i = 0; i < cargo.length; i++) if ((part >> i) & 1) uplinkOf[i] = u;
      visit(u + 1, left ^ part, points + (here[part] as number));
    }
  };
  /** A backup comes after its main feed: the other way round is the same. */
  const inTurn = (part: number, left: number): boolean => {
    let backups = part & mains;
    for (let i = 0; backups !== 0; i++, backups >>= 1) if (backups & 1 && (left >> (cargo[i] as Cargo).backs) & 1) return false;
    return true;
  };
  if ((best[0]?.[all] as number) >= floor()) visit(0, all, 0);
}
