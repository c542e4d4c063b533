import { type Bound, copyOf, type Prices, type Standing } from "./bound";

const kinds = ["room", "engine"] as const;
/** What a price of each kind usually comes to, so that a step moves all of them alike: points a bit/s, points. */
const units = { room: 5, engine: 2e7 } as const;
/** How much of the way come is kept, and after how many steps without gain they are shortened. */
const DEFLECTION = 0.6;
const PATIENCE = 6;
/** Prices beyond this many units only lose digits: no plan's points are worth so much. */
const HIGHEST = 1000;

/**
 * Lets prices descend for some steps: along the slope deflected by the way come (Camerini, Fratta, Maffioli 1975), as far
 * as Polyak's step towards `floor` says. Gives the best bound and its prices.
 */
export function descend(
  bounds: Bound,
  n: Standing,
  from: Prices,
  steps: number,
  known: number,
  floor: number,
): { bound: number; prices: Prices } {
  const prices = copyOf(from);
  const slope = copyOf(from);
  const way: Prices = { room: from.room.map(() => 0), engine: from.engine.map(() => 0) };
  let bound = known;
  let good = from;
  let scale = 1;
  let idle = 0;
  for (let step = 0; step < steps; step++) {
    const { value } = bounds.at(n, prices, slope);
    if (value === Number.NEGATIVE_INFINITY) return { bound: value, prices: good };
    if (value < bound - 0.01) {
      bound = value;
      good = copyOf(prices);
      idle = 0;
    } else if (++idle >= PATIENCE) {
      scale *= 0.6;
      idle = 0;
    }
    if (bound < floor - 0.01) break;
    let square = 0;
    let along = 0;
    for (const kind of kinds)
      for (let i = 0; i < prices[kind].length; i++) {
        const own = (slope[kind][i] as number) * units[kind];
        // A price of nothing does not fall further.
        const now = own > 0 && prices[kind][i] === 0 ? 0 : own + DEFLECTION * (way[kind][i] as number);
        way[kind][i] = now;
        square += now * now;
        along += now * own;
      }
    if (square === 0) break;
    const target = Number.isFinite(floor) ? Math.min(floor, bound) : 0.97 * bound;
    const move = (scale * Math.max(value - target, 0.0005 * Math.abs(value))) / Math.max(square, along);
    for (const kind of kinds)
      for (let i = 0; i < prices[kind].length; i++)
        prices[kind][i] = Math.min(
          HIGHEST * units[kind],
          Math.max(0, (prices[kind][i] as number) - move * units[kind] * (way[kind][i] as number)),
        );
  }
  return { bound, prices: good };
}
