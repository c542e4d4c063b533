import type { Protocol } from "@ukaza/contract/settings";
import { bestAt, type Hull, hullOf } from "./hull";
import type { Make } from "./makes";
import type { Encoders, Model, Route, Taker } from "./model";
import type { Terms } from "./terms";

/** One way of sending from a spot: a protocol over a route. Routes that cost the same at every bitrate stand together. */
export interface Way {
  protocol: Protocol;
  routes: Route[];
  /** Load by bitrate on each uplink of a route; the same tables for all routes of the way. Optimistic: see `spotsOf`. */
  tables: readonly Float64Array[];
  /** Index of the highest bitrate that the uplinks of its routes carry if nothing else is on them. */
  last: number;
  /** Where a route's uplinks weigh the same: the hull of its table; null: they differ. */
  hull: Hull | null;
}

/** A destination by itself in a new engine: what it would be told there, from which encoders and by which ways. */
export interface Spot {
  terms: Terms;
  encoders: Encoders[];
  /** What the first of them is told; the others make the same bitrates of the same size. */
  make: Make;
  /** Its place among the makes of the destination on these encoders. */
  which: number;
  ways: Way[];
}

/** The highest bitrate that a route carries alone; −1: none. */
function lastOf(tables: readonly Float64Array[], route: Route, roomBps: readonly number[]): number {
  const [first, second] = tables as [Float64Array, Float64Array?];
  const doubled = route.length > 1 && route[0] === route[1] ? 2 : 1;
  let last = first.length - 1;
  const over = (table: Float64Array, u: number) => (table[last] as number) * doubled > (roomBps[u] as number);
  while (last >= 0 && (over(first, route[0] as number) || (second && over(second, route[1] as number)))) last--;
  return last;
}

const lighters = new WeakMap<Float64Array, WeakMap<Float64Array, boolean>>();

/** Whether loads are less than others at every bitrate, beyond rounding; asked of the same tables again and again. */
function lighter(a: Float64Array, b: Float64Array): boolean {
  let known = lighters.get(a);
  if (!known) {
    known = new WeakMap();
    lighters.set(a, known);
  }
  let is = known.get(b);
  if (is === undefined) {
    is = a.every((load, i) => load <= (b[i] as number) - 1);
    known.set(b, is);
  }
  return is;
}

/** Ways from a make within the room of the uplinks; SRT only where RTMP is capped or dearer. */
export function waysOf(
  make: Make,
  protocols: readonly Protocol[],
  routes: readonly Route[],
  roomBps: readonly number[],
  audioBps?: number,
): Way[] {
  const ways: Way[] = [];
  const loads = (protocol: Protocol, u: number) => make.loads(protocol, u, audioBps);
  for (const route of routes)
    for (const protocol of protocols) {
      const tables = route.map((u) => loads(protocol, u));
      const last = lastOf(tables, route, roomBps);
      if (last < 0) continue;
      const beaten = protocols.some(
        (other) => other !== protocol && route.every((u, n) => lighter(loads(other, u), tables[n] as Float64Array)),
      );
      if (beaten) continue;
      const same = ways.find((w) => w.protocol === protocol && w.last === last && w.tables.every((t, n) => t === tables[n]));
      if (same) same.routes.push(route);
      else {
        const [first, second] = tables as [Float64Array, Float64Array?];
        const hull = second === undefined || second === first ? hullOf(first, make.q, last) : null;
        ways.push({ protocol, routes: [route], tables, last, hull });
      }
    }
  return ways;
}

/**
 * Every spot of a destination. Loads are the least that sharing an engine could make of them: with the audio of whoever
 * of the others takes the same picture and wishes for less. That keeps bounds true before it is known who shares.
 */
export function spotsOf(model: Model, taker: Taker, roomBps: readonly number[]): Spot[] {
  const wished = new Map<number, number>();
  for (const other of model.takers)
    for (const t of other.terms)
      wished.set(t.picture.index, Math.min(wished.get(t.picture.index) ?? Number.POSITIVE_INFINITY, t.audio.wishedBps));
  const spots = new Map<string, Spot>();
  for (const terms of taker.terms)
    taker.encoders.forEach((encoders, way) => {
      const protocols = taker.protocols[way] ?? [];
      for (const [which, make] of model.makes.of([terms], encoders).entries()) {
        const last = make.bps.length - 1;
        const rungs = make.rungs[0] ?? [];
        const key = `${terms.id} ${which} ${make.bps[0]} ${make.bps[last]} ${last} ${protocols.join()} ${make.base.audioBps} ${make.base.audioHz} ${rungs.map((r) => r.height + r.frameRate).join()}`;
        const spot = spots.get(key);
        if (spot) {
          spot.encoders.push(encoders);
          continue;
        }
        const low = taker.ladder
          ? make.base.audioBps
          : Math.min(make.base.audioBps, Math.max(terms.audio.minBps, wished.get(terms.picture.index) ?? 0));
        const ways = waysOf(make, protocols, taker.routes, roomBps, low);
        if (ways.length > 0) spots.set(key, { terms, encoders: [encoders], make, which, ways });
      }
    });
  return [...spots.values()].sort((a, b) => topOf(b) - topOf(a));
}

/** Feeds that a new engine sends from each of so many encoders. */
export const feedsOfSpot = ({ make, ways }: Spot, encoders: number): number =>
  (encoders === 1 ? (ways[0]?.tables.length ?? 1) : 1) * make.engines;

/** The most that a spot's picture can score where it can be sent. */
export const topOf = (spot: Spot): number => spot.make.q[Math.max(...spot.ways.map((w) => w.last))] as number;

/** The best of a way over one route at given prices (points a bit/s by uplink): its bitrate's index. */
function atRoute(q: Float64Array, way: Way, route: Route, weight: number, prices: readonly number[]): number {
  const main = prices[route[0] as number] as number;
  const backup = route.length > 1 ? (prices[route[1] as number] as number) : 0;
  if (way.hull) return bestAt(way.hull, weight, main + backup);
  const [first, second] = way.tables as [Float64Array, Float64Array];
  let value = Number.NEGATIVE_INFINITY;
  let best = 0;
  for (let i = 0; i <= way.last; i++) {
    const v = weight * (q[i] as number) - main * (first[i] as number) - backup * (second[i] as number);
    if (v > value) {
      value = v;
      best = i;
    }
  }
  return best;
}

/** Reduced value of a way over one route at a bitrate. */
function valueAt(q: Float64Array, way: Way, route: Route, weight: number, prices: readonly number[], at: number): number {
  let value = weight * (q[at] as number);
  for (let n = 0; n < route.length; n++) value -= (prices[route[n] as number] as number) * (way.tables[n]?.[at] as number);
  return value;
}

/** Where all of a way's routes weigh the same, the cheapest is the best. */
export function cheapest(way: Way, prices: readonly number[]): Route {
  let best = way.routes[0] as Route;
  let least = Number.POSITIVE_INFINITY;
  for (const route of way.routes) {
    let sum = 0;
    for (let n = 0; n < route.length; n++) sum += prices[route[n] as number] as number;
    if (sum < least) {
      least = sum;
      best = route;
    }
  }
  return best;
}

/** What a spot is worth at given prices at most; `added`: something that comes on top at each bitrate. */
export function bestOfSpot(spot: Spot, weight: number, prices: readonly number[], added: Float64Array | null = null): number {
  const { q } = spot.make;
  let best = Number.NEGATIVE_INFINITY;
  for (const way of spot.ways)
    for (const route of way.hull ? [cheapest(way, prices)] : way.routes) {
      if (!added) {
        best = Math.max(best, valueAt(q, way, route, weight, prices, atRoute(q, way, route, weight, prices)));
        continue;
      }
      for (let i = 0; i <= way.last; i++) best = Math.max(best, valueAt(q, way, route, weight, prices, i) + (added[i] as number));
    }
  return best;
}

/** Adds the load of a spot at its best for given prices to what each uplink carries. */
export function addBestOfSpot(spot: Spot, weight: number, prices: readonly number[], used: number[]): void {
  const { q } = spot.make;
  let best = Number.NEGATIVE_INFINITY;
  let chosen: { way: Way; route: Route; at: number } | null = null;
  for (const way of spot.ways)
    for (const route of way.hull ? [cheapest(way, prices)] : way.routes) {
      const at = atRoute(q, way, route, weight, prices);
      const value = valueAt(q, way, route, weight, prices, at);
      if (value > best) {
        best = value;
        chosen = { way, route, at };
      }
    }
  if (!chosen) return;
  const { way, route, at } = chosen;
  route.forEach((u, n) => {
    used[u] = (used[u] as number) + (way.tables[n]?.[at] as number);
  });
}
