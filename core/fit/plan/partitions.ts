import { bestAt, type Hull } from "./hull";

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

/** Prices at which subsets are bounded, as multiples of the one given: close together around it, then further apart. */
const LADDER = [0, 0.2, 0.4, 0.55, 0.7, 0.8, 0.87, 0.93, 1, 1.07, 1.15, 1.25, 1.4, 1.6, 1.9, 2.4, 3.2, 5, 9] as const;

/** A subset of feeds that an uplink may carry in a good plan, and what is lost by it against the bound of all. */
interface Part {
  feeds: number;
  loss: number;
}

/** Reduced value of a feed at a price. */
function worth({ weight, hull, table, q }: Cargo, price: number): number {
  const at = bestAt(hull, weight, price);
  return weight * (q[at] as number) - price * (table[at] as number);
}

/** The subsets that one uplink may carry without losing more than `most`, the least loss first. */
function partsOf(cargo: readonly Cargo[], uplink: number, roomBps: number, price: number, full: readonly number[], most: number): Part[] {
  const size = 1 << cargo.length;
  const values = new Float64Array(size).fill(Number.POSITIVE_INFINITY);
  const sums = new Float64Array(size);
  const lowest = new Float64Array(size);
  const whole = new Float64Array(size);
  const steps = price > 0 ? LADDER.map((factor) => factor * price) : LADDER.map((factor) => 8 * factor);
  for (const [n, step] of steps.entries()) {
    const own = cargo.map((c) => worth(c, step));
    for (let subset = 1; subset < size; subset++) {
      const bit = 31 - Math.clz32(subset & -subset);
      const before = subset & (subset - 1);
      const sum = (sums[before] as number) + (own[bit] as number);
      sums[subset] = sum;
      const value = step * roomBps + sum;
      if (value < (values[subset] as number)) values[subset] = value;
      if (n > 0) continue;
      const c = cargo[bit] as Cargo;
      lowest[subset] = (lowest[before] as number) + (c.table[c.hull.at[0] as number] as number);
      whole[subset] = (whole[before] as number) + (full[bit] as number);
    }
  }
  const allowed = cargo.reduce((mask, c, i) => ((c.uplinks >> uplink) & 1 ? mask | (1 << i) : mask), 0);
  const pairs = cargo.flatMap((c, i) => (c.backs >= 0 ? [(1 << i) | (1 << c.backs)] : []));
  const parts: Part[] = [{ feeds: 0, loss: price * roomBps }];
  for (let subset = 1; subset < size; subset++) {
    if (subset & ~allowed || (lowest[subset] as number) > roomBps || pairs.some((pair) => (subset & pair) === pair)) continue;
    const loss = price * roomBps + (whole[subset] as number) - (values[subset] as number);
    if (loss <= most) parts.push({ feeds: subset, loss });
  }
  return parts.filter((p) => p.loss <= most).sort((a, b) => a.loss - b.loss);
}

/**
 * Gives every way to share feeds out over the uplinks that may reach `floor()` points, told as the uplink of every feed;
 * `floor` may rise meanwhile. At given prices every feed has a worth on its best uplink, and all of them with the room's
 * worth are a bound; what a subset on one uplink falls short of its share of that bound is lost whatever the others do
 * (bounded at many prices at once), so a way is dropped as soon as its losses are too great.
 */
export function eachPartition(
  cargo: readonly Cargo[],
  roomBps: readonly number[],
  prices: readonly number[],
  floor: () => number,
  tell: (uplinkOf: readonly number[]) => void,
): void {
  const full = cargo.map((c) => Math.max(...prices.map((price, u) => ((c.uplinks >> u) & 1 ? worth(c, price) : Number.NEGATIVE_INFINITY))));
  const bound = full.reduce((sum, value) => sum + value, 0) + prices.reduce((sum, price, u) => sum + price * (roomBps[u] as number), 0);
  const parts = roomBps.map((room, u) => partsOf(cargo, u, room, prices[u] as number, full, bound - floor()));
  // The pickiest uplink first.
  const order = parts.map((_, u) => u).sort((a, b) => (parts[a]?.length ?? 0) - (parts[b]?.length ?? 0));
  const uplinkOf = cargo.map(() => 0);
  const place = (feeds: number, u: number) => {
    for (let i = 0; i < cargo.length; i++) if ((feeds >> i) & 1) uplinkOf[i] = u;
  };
  const visit = (n: number, left: number, loss: number): void => {
    const u = order[n] as number;
    for (const part of parts[u] ?? []) {
      if (loss + part.loss > bound - floor()) return;
      if (part.feeds & ~left) continue;
      const rest = left & ~part.feeds;
      if (n === order.length - 1) {
        if (rest !== 0) continue;
        place(part.feeds, u);
        // A backup over an earlier uplink than its main feed is the same way round the other way.
        if (cargo.every((c, i) => c.backs < 0 || (uplinkOf[c.backs] as number) < (uplinkOf[i] as number))) tell(uplinkOf);
        continue;
      }
      place(part.feeds, u);
      visit(n + 1, rest, loss + part.loss);
    }
  };
  visit(0, (1 << cargo.length) - 1, 0);
}
