import type { Bound, Parts, Prices } from "./bound";
import type { Encoders, Taker } from "./model";
import type { Scope } from "./scope";
import { NOTHING } from "./slack";
import type { Way } from "./spots";
import type { Piece, Ware } from "./subsets";
import type { Terms } from "./terms";

/** A destination told one picture at one bitrate. */
export interface Choice {
  terms: Terms;
  bps: number;
  /** Encoders that it can come from, and what it takes there. */
  encoders: readonly Encoders[];
  engines: number;
  lumaPerS: number;
  points: number;
  /** Q in millionths. */
  q: number;
  /** Points that it gives up for whoever runs the engine: at least, and at most. */
  gives: { least: number; most: number };
  /** By feed (main, backup) and uplink: the least it weighs there, bit/s; Infinity: it cannot be there. */
  loads: readonly Float64Array[];
}

/** Everything that one destination may be told. */
export interface Stand {
  taker: Taker;
  feeds: 1 | 2;
  /** The most it is worth where nothing is sent to it; −Infinity: something must be. */
  out: number;
  /** The same where no relay passes anything on to it. */
  without: number;
  /** Points that it gives up for the engines then. */
  outGives: number;
  choices: readonly Choice[];
}

const overOne = (way: Way) => way.routes.every((r) => r.length === 1 || r[0] === r[1]);

/** The choices of each destination in a scope, with engines priced as in `parts` (of an empty plan at these prices). */
export function standsOf(scope: Scope, bound: Bound, parts: Parts, prices: Prices): Stand[] {
  return scope.order.map((taker): Stand => {
    const spots = scope.spots[taker.index] ?? [];
    const feeds = spots.some((spot) => !spot.ways.every(overOne)) ? 2 : 1;
    const wanted = parts.takers[taker.index] as number;
    const choices = new Map<string, Choice & { encoders: Encoders[] }>();
    for (const spot of spots) {
      const { make, terms, ways } = spot;
      const gives = bound.givenUp(prices, taker, spot, wanted);
      make.bps.forEach((bps, k) => {
        const loads = Array.from({ length: feeds }, (_, n) => leastLoads(ways, k, scope.limits.roomBps.length, feeds === 1 ? null : n));
        const given = gives?.[k] ?? 0;
        const key = `${terms.id} ${spot.which} ${bps}`;
        const same = choices.get(key);
        if (same) {
          same.encoders.push(...spot.encoders);
          same.gives = { least: Math.min(same.gives.least, given), most: Math.max(same.gives.most, given) };
          same.loads.forEach((list, n) => {
            list.forEach((load, u) => {
              list[u] = Math.min(load, loads[n]?.[u] as number);
            });
          });
          return;
        }
        choices.set(key, {
          terms,
          bps,
          encoders: [...spot.encoders],
          engines: make.engines,
          lumaPerS: make.lumaPerS,
          points: taker.weight * (make.q[k] as number),
          q: make.q[k] as number,
          gives: { least: given, most: given },
          loads,
        });
      });
    }
    const without = scope.mayGoWithout(taker) ? 0 : Number.NEGATIVE_INFINITY;
    return {
      taker,
      feeds,
      out: Math.max(without, scope.mostPassed({ depth: 0, groups: [] }, taker)),
      without,
      outGives: 0,
      choices: [...choices.values()],
    };
  });
}

/** Stands whose relay can pass on only what is left for it to be told. */
export const passedOn = (stands: readonly Stand[]): Stand[] =>
  stands.map((stand): Stand => {
    const relay = stands.find((s) => s.taker.index === stand.taker.relay);
    if (stand.out === NOTHING || !relay) return stand;
    let out = stand.without;
    for (const { terms, q } of relay.choices)
      if (stand.taker.terms.some((t) => t.picture === terms.picture)) out = Math.max(out, stand.taker.weight * q);
    return { ...stand, out: Math.min(out, stand.out) };
  });

/** By uplink, the least that a feed (its place in a route; null: all of them at once) weighs at a bitrate. */
function leastLoads(ways: readonly Way[], k: number, uplinks: number, feed: number | null): Float64Array {
  const least = new Float64Array(uplinks).fill(Number.POSITIVE_INFINITY);
  for (const way of ways) {
    if (k > way.last) continue;
    for (const route of way.routes)
      for (let n = feed ?? 0; n < (feed === null ? route.length : feed + 1); n++) {
        const u = route[n] as number;
        const twice = route.length > 1 && route[0] === route[1] ? 2 : 1;
        least[u] = Math.min(least[u] as number, (way.tables[n]?.[k] as number) * twice);
      }
  }
  return least;
}

const MOST_CELLS = 600;

/** The width of a cell, bit/s: one step of an encoder as it weighs on an uplink, or some of them where that makes too many. */
export function cellOf(stands: readonly Stand[], roomBps: readonly number[]): number {
  const most = Math.max(1, ...roomBps);
  let least = Number.POSITIVE_INFINITY;
  for (const { choices } of stands)
    for (let k = 1; k < choices.length; k++) {
      const [a, b] = [choices[k - 1] as Choice, choices[k] as Choice];
      if (a.terms !== b.terms) continue;
      for (let u = 0; u < roomBps.length; u++) {
        const step = Math.abs((b.loads[0]?.[u] as number) - (a.loads[0]?.[u] as number));
        if (step > 1000 && step < least) least = step;
      }
    }
  return Number.isFinite(least) ? least * Math.ceil(most / least / MOST_CELLS) : most / MOST_CELLS;
}

/**
 * Stands taken apart into feeds, in order. The two feeds of a destination have half of its points each and may then differ
 * (Lagrangian decomposition, Guignard and Kim 1987).
 */
export function piecesOf(stands: readonly Stand[], roomBps: readonly number[], cellBps: number): Piece[] {
  const pieces: Piece[] = [];
  for (const { feeds, choices, out, outGives } of stands)
    for (let n = 0; n < feeds; n++) {
      const on = roomBps.map((_, u) => wareOf(choices, n, u, feeds, cellBps));
      pieces.push({ on, out: (out - outGives) / feeds, apart: n === 0 ? -1 : pieces.length - 1 });
    }
  return pieces;
}

/** The cell that a load falls into beyond a base; counted as less than it is by rounding alone. */
export const cellAt = (loadBps: number, baseBps: number, cellBps: number): number => Math.floor((loadBps - baseBps) / cellBps + 1e-9);

/**
 * The base from which loads lie as little as can be beyond the beginnings of their cells: encoders step evenly, but pictures
 * differ in what is sent around them. It begins behind the widest gap between places within a cell.
 */
function baseOf(loads: readonly number[], cellBps: number): number {
  const least = Math.min(...loads);
  const places = loads.map((load) => ((load - least) / cellBps) % 1).sort((a, b) => a - b);
  let [start, widest] = [0, 1 - (places[places.length - 1] as number)];
  for (let i = 1; i < places.length; i++) {
    const gap = (places[i] as number) - (places[i - 1] as number);
    if (gap > widest) [start, widest] = [places[i] as number, gap];
  }
  return start === 0 ? least : least - (1 - start) * cellBps;
}

function wareOf(choices: readonly Choice[], feed: number, u: number, feeds: number, cellBps: number): Ware | null {
  const loads = choices.map((choice) => choice.loads[feed]?.[u] as number);
  const finite = loads.filter(Number.isFinite);
  if (finite.length === 0) return null;
  const baseBps = baseOf(finite, cellBps);
  const taken = loads.map((load) => (Number.isFinite(load) ? cellAt(load, baseBps, cellBps) : -1));
  const most = Math.max(...taken);
  const best = new Float64Array(most + 1).fill(NOTHING);
  choices.forEach(({ points, gives }, i) => {
    const cell = taken[i] as number;
    if (cell >= 0) best[cell] = Math.max(best[cell] as number, (points - gives.least) / feeds);
  });
  const places = new Int32Array(most + 1);
  const cells: number[] = [];
  best.forEach((value, cell) => {
    if (value !== NOTHING) places[cell] = cells.push(cell) - 1;
  });
  return {
    baseBps,
    cells: Int32Array.from(cells),
    values: Float64Array.from(cells, (cell) => best[cell] as number),
    of: Int32Array.from(taken, (cell) => (cell < 0 ? -1 : (places[cell] as number))),
  };
}
