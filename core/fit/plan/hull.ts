/** Corners of the upper concave hull of points (load, q), and the slope that leads to each; loads rise with the index. */
export interface Hull {
  at: Int32Array;
  /** q gained per bit/s on the way to a corner; falling. The first is Infinity. */
  slope: Float64Array;
}

const hulls = new WeakMap<Float64Array, Map<number, Hull>>();

/** The hull of a load table and the q of its bitrates (one q for each table) up to a last one; bitrates the path does not carry are left out. */
export function hullOf(table: Float64Array, q: Float64Array, last: number): Hull {
  let byLast = hulls.get(table);
  if (!byLast) {
    byLast = new Map();
    hulls.set(table, byLast);
  }
  const known = byLast.get(last);
  if (known) return known;
  const at: number[] = [];
  const rise = (a: number, b: number) => ((q[b] as number) - (q[a] as number)) / ((table[b] as number) - (table[a] as number));
  for (let i = 0; i <= last && table[i] !== Number.POSITIVE_INFINITY; i++) {
    while (at.length > 1 && rise(at[at.length - 2] as number, at[at.length - 1] as number) <= rise(at[at.length - 1] as number, i))
      at.pop();
    at.push(i);
  }
  const hull = {
    at: Int32Array.from(at),
    slope: Float64Array.from(at, (corner, n) => (n === 0 ? Number.POSITIVE_INFINITY : rise(at[n - 1] as number, corner))),
  };
  byLast.set(last, hull);
  return hull;
}

/** Index of the bitrate with the greatest weight·q − price·load. Of equals the heavier. */
export function bestAt(hull: Hull, weight: number, price: number): number {
  const { at, slope } = hull;
  let low = 0;
  let high = at.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (weight * (slope[middle] as number) >= price) low = middle;
    else high = middle - 1;
  }
  return at[low] as number;
}
