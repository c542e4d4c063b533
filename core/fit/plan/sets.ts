import { NOTHING } from "./slack";

/** By subset: the sum over its pieces. */
export function sumsOf<T>(pieces: readonly T[], of: (piece: T) => number): Float64Array {
  const sums = new Float64Array(1 << pieces.length);
  for (let s = 1; s < sums.length; s++) {
    const bit = 31 - Math.clz32(s);
    sums[s] = (sums[s & ~(1 << bit)] as number) + of(pieces[bit] as T);
  }
  return sums;
}

/**
 * The most that a whole set comes to, shared out between lists (by subset what it comes to in that list); and for each list,
 * by subset, the most that all other lists come to with it.
 */
export function complements(lists: readonly Float64Array[]): { best: number; others: Float64Array[] } {
  const size = lists[0]?.length ?? 1;
  const none = new Float64Array(size).fill(NOTHING);
  none[0] = 0;
  const before: Float64Array[] = [none];
  for (const list of lists) before.push(joined(before[before.length - 1] as Float64Array, list));
  let after: Float64Array = none;
  const others: Float64Array[] = [];
  for (let n = lists.length - 1; n >= 0; n--) {
    others[n] = joined(before[n] as Float64Array, after);
    after = joined(lists[n] as Float64Array, after);
  }
  return { best: after[size - 1] as number, others };
}

/** By set, the most that it comes to shared out between two lists: whichever list has fewer sets in it is gone through. */
function joined(a: Float64Array, b: Float64Array): Float64Array {
  const [few, many] = workOf(a) <= workOf(b) ? [a, b] : [b, a];
  const full = a.length - 1;
  const none = NOTHING;
  const most = new Float64Array(a.length).fill(none);
  for (let set = 0; set <= full; set++) {
    const own = few[set] as number;
    if (own === none) continue;
    const left = full & ~set;
    for (let part = left; ; part = (part - 1) & left) {
      const value = own + (many[part] as number);
      if (value > (most[set | part] as number)) most[set | part] = value;
      if (part === 0) break;
    }
  }
  return most;
}

/** Sums that joining a list to another takes: each set has so many sets to be joined to as the rest has subsets. */
function workOf(list: Float64Array): number {
  const shares = sharesOf(list.length);
  const none = NOTHING;
  let work = 0;
  for (let set = 0; set < list.length; set++) if (list[set] !== none) work += shares[set] as number;
  return work;
}

/** By set, the share of all sets that have nothing of it; kept, since there are few sizes. */
function sharesOf(size: number): Float64Array {
  const known = shares.get(size);
  if (known) return known;
  const own = new Float64Array(size).fill(1);
  for (let set = 1; set < size; set++) own[set] = (own[set & (set - 1)] as number) / 2;
  shares.set(size, own);
  return own;
}

const shares = new Map<number, Float64Array>();
