import { cheapest, type Spot } from "./spots";

/** A spot on one kind of encoder, with the cells of a table that its bitrates fall into. */
export interface Line {
  spot: Spot;
  group: number;
  cells: Int32Array;
  /** Reduced value of each bitrate at the prices last asked for. */
  values: Float64Array;
}

/** Index of a bitrate in a spot's list; −1: it is not there. */
export function indexOf(spot: Spot, bps: number): number {
  const { bps: list } = spot.make;
  const first = list[0] as number;
  if (list.length === 1) return first === bps ? 0 : -1;
  const index = Math.round((bps - first) / ((list[1] as number) - first));
  return list[index] === bps ? index : -1;
}

/** Reduced value of every bitrate of a spot at its best way for these prices. */
export function valuesOf(spot: Spot, weight: number, room: readonly number[], values: Float64Array): void {
  const { q } = spot.make;
  values.fill(Number.NEGATIVE_INFINITY);
  for (const way of spot.ways)
    for (const route of way.hull ? [cheapest(way, room)] : way.routes)
      for (let i = 0; i <= way.last; i++) {
        let v = weight * (q[i] as number);
        for (let k = 0; k < route.length; k++) v -= (room[route[k] as number] as number) * (way.tables[k]?.[i] as number);
        if (v > (values[i] as number)) values[i] = v;
      }
}
