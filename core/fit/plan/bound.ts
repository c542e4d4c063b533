import { type Group, priceAt, reduced, takeFrom } from "./groups";
import { indexOf, type Line, valuesOf } from "./lines";
import type { Taker } from "./model";
import { Offers, type Rack } from "./offers";
import type { Scope } from "./scope";
import { addBestOfSpot, bestOfSpot, cheapest, feedsOfSpot, type Spot, topOf } from "./spots";

/** What is left to those not decided yet, and what runs already. */
export interface Standing {
  /** Place in the order from which on nothing is decided. */
  depth: number;
  groups: readonly Group[];
  enginesLeft: readonly number[];
  lumaLeft: readonly number[];
  feedsLeft: readonly number[];
}

/** Multipliers of the relaxation: points a bit/s by uplink, and points given up by a destination that must find an engine. */
export interface Prices {
  room: number[];
  engine: number[];
}

export const copyOf = (p: Prices): Prices => ({ room: [...p.room], engine: [...p.engine] });

/** Parts of a bound from which those of its children follow. */
export interface Parts {
  value: number;
  /** What engines that are left are worth. */
  engines: number;
  /** What each destination may add, by index, after what it gives up. */
  takers: number[];
  groups: number[];
  /** What so many engines with so much luma of an encoder would be worth less than those it has left. */
  lost: (encoder: number, engines: number, lumaPerS: number) => number;
}

/** Bitrates nearer than this count as one when it is bounded who may share; it only loosens the bound. */
const CELL_BPS = 50_000;

/**
 * Bounds from above what a partly decided plan can come to: uplinks and the rule that whoever is sent something has an
 * engine for it are relaxed with prices (Lagrangian relaxation, Geoffrion 1974; the engines as in facility location,
 * Erlenkotter 1978); engines and luma of each encoder are kept to exactly. Any prices give a true bound; `descend` looks
 * for good ones.
 */
export class Bound {
  private readonly lines: Line[][];
  private readonly offers: Offers;
  private readonly cells: number;

  constructor(private readonly scope: Scope) {
    const { model, spots } = scope;
    let top = 0;
    for (const list of spots) for (const s of list) top = Math.max(top, s.make.bps[s.make.bps.length - 1] as number);
    this.cells = Math.floor(top / CELL_BPS) + 2;
    const luma: number[] = [];
    this.lines = spots.map((list) =>
      list.flatMap((spot) => {
        const { index } = spot.terms.picture;
        luma[index] = spot.terms.picture.lumaPerS;
        const kinds = [...new Set(spot.encoders.map((at) => model.alike[at[0] as number] as number))];
        const values = new Float64Array(spot.make.bps.length);
        return kinds.map((group) => ({
          spot,
          group,
          cells: Int32Array.from(spot.make.bps, (bps) => index * this.cells + Math.floor(bps / CELL_BPS)),
          values,
        }));
      }),
    );
    this.offers = new Offers(model.alike, luma, this.cells);
  }

  /** Leaves out spots that cannot belong to a better answer. */
  keepOnly(taker: number, kept: ReadonlySet<Spot>): void {
    this.lines[taker] = (this.lines[taker] ?? []).filter((line) => kept.has(line.spot));
  }

  /** Whether a new engine can be had for a spot from these encoders. */
  hasRoom(n: Standing, spot: Spot, encoders: readonly number[]): boolean {
    const { make } = spot;
    const each = feedsOfSpot(spot, encoders.length);
    return encoders.every(
      (e) =>
        (n.enginesLeft[e] as number) >= make.engines && (n.lumaLeft[e] as number) >= make.lumaPerS && (n.feedsLeft[e] as number) >= each,
    );
  }

  /** Whether a spot can be had: in a new engine, or in one that runs the same picture. */
  private open(n: Standing, taker: Taker, spot: Spot): boolean {
    for (const at of spot.encoders) if (this.hasRoom(n, spot, at)) return true;
    if (taker.ladder) return false;
    for (const g of n.groups)
      if (g.make.engines === 1 && g.make.picture === spot.terms.picture)
        for (const at of spot.encoders) if (at.some((e) => g.encoders.includes(e))) return true;
    return false;
  }

  /** The most that an undecided destination adds at these prices, wherever it finds an engine; and the spot it would take. */
  most(n: Standing, taker: Taker, room: readonly number[]): { value: number; spot: Spot | null } {
    let value = Math.max(this.scope.mayGoWithout(taker) ? 0 : Number.NEGATIVE_INFINITY, this.scope.mostPassed(n, taker));
    let chosen: Spot | null = null;
    for (const spot of this.scope.spots[taker.index] ?? []) {
      // By falling top: the rest cannot be better.
      if (taker.weight * topOf(spot) <= value) break;
      const here = bestOfSpot(spot, taker.weight, room);
      if (here > value && this.open(n, taker, spot)) {
        value = here;
        chosen = spot;
      }
    }
    return { value, spot: chosen };
  }

  /** The bound at given prices, and how it changes with them: what is over on uplinks, and who has engines too few (−1) or too many. */
  at(n: Standing, p: Prices, slope: Prices | null): Parts {
    const { order } = this.scope;
    const { roomBps } = this.scope.limits;
    let value = 0;
    let engines = 0;
    for (let u = 0; u < roomBps.length; u++) {
      value += (p.room[u] as number) * (roomBps[u] as number);
      if (slope) slope.room[u] = roomBps[u] as number;
    }
    const takers: number[] = [];
    const own: (Spot | null)[] = [];
    const counts: number[] = [];
    let priced = false;
    this.offers.clear();
    for (let i = n.depth; i < order.length; i++) {
      const t = order[i] as Taker;
      const { value: most, spot } = this.most(n, t, p.room);
      own[t.index] = spot;
      counts[t.index] = 0;
      const gives = alone(t)
        ? 0
        : this.scope.mayGoWithout(t)
          ? Math.min(p.engine[t.index] as number, Math.max(0, most))
          : (p.engine[t.index] as number);
      takers[t.index] = most - gives;
      value += most - gives;
      if (most === Number.NEGATIVE_INFINITY) return { value: most, engines, takers, groups: [], lost: () => 0 };
      if ((p.engine[t.index] as number) > 0 && !alone(t)) {
        priced = true;
        this.share(t, most - gives, p.room);
      }
    }
    const groups = n.groups.map((g) => {
      const best = priced ? this.withJoiners(n, g, p, takers) : { ...reduced(g, p.room), joiners: [] };
      value += best.value;
      if (slope) {
        takeFrom(slope.room, g, best.at, p.room);
        for (const { taker, spot } of best.joiners) {
          counts[taker.index] = (counts[taker.index] as number) + 1;
          this.subtract(spot, taker, p.room, (g.make.bps as number[])[best.at] as number, slope.room);
        }
      }
      return best.value;
    });
    slope?.engine.fill(0);
    const racks = priced ? this.offers.racks(n) : [];
    for (const rack of racks) engines += rack.worth;
    if (slope) this.countEngines(n, p, takers, racks, slope, counts);
    value += engines;
    if (slope)
      for (let i = n.depth; i < order.length; i++) {
        const t = order[i] as Taker;
        const count = counts[t.index] as number;
        slope.engine[t.index] = alone(t) ? 0 : count - 1;
        const spot = own[t.index];
        if (spot && count !== 1) {
          const used = roomBps.map(() => 0);
          addBestOfSpot(spot, t.weight, p.room, used);
          for (let u = 0; u < used.length; u++) slope.room[u] = (slope.room[u] as number) - (1 - count) * (used[u] as number);
        }
      }
    return { value, engines, takers, groups, lost: (e, count, lumaPerS) => this.offers.lost(n, racks[e], e, count, lumaPerS) };
  }

  /** What a destination gives up for an engine at each bitrate of a spot, at the prices last asked for; null: nothing. */
  givenUp(p: Prices, t: Taker, spot: Spot, wanted: number): Float64Array | null {
    if (!((p.engine[t.index] as number) > 0) || alone(t)) return null;
    const line = this.lines[t.index]?.find((l) => l.spot === spot);
    return line ? line.values.map((value) => Math.max(0, value - wanted)) : null;
  }

  /** Adds what a destination would give to be in an engine, picture by picture and bitrate by bitrate. */
  private share(t: Taker, wanted: number, room: readonly number[]): void {
    for (const line of this.lines[t.index] ?? []) {
      if (t.weight * topOf(line.spot) <= wanted) {
        line.values.fill(Number.NEGATIVE_INFINITY);
        continue;
      }
      const add = (cell: number, gain: number) => this.offers.add(line.group, cell, gain);
      const { values, cells } = line;
      valuesOf(line.spot, t.weight, room, values);
      let last = -1;
      let most = 0;
      for (let i = 0; i < values.length; i++) {
        const gain = (values[i] as number) - wanted;
        const cell = cells[i] as number;
        if (cell !== last) {
          if (most > 0) add(last, most);
          last = cell;
          most = 0;
        }
        if (gain > most) most = gain;
      }
      if (most > 0) add(last, most);
    }
  }

  /** A running group's best bitrate with everybody who would pay to join it there. */
  withJoiners(n: Standing, g: Group, p: Prices, takers: readonly number[]) {
    const joiners: { taker: Taker; spot: Spot; line: Line }[] = [];
    if (g.make.engines === 1)
      for (let i = n.depth; i < this.scope.order.length; i++) {
        const t = this.scope.order[i] as Taker;
        if (!((p.engine[t.index] as number) > 0) || alone(t)) continue;
        const line = (this.lines[t.index] ?? []).find(
          (l) => l.spot.terms.picture === g.make.picture && l.spot.encoders.some((at) => g.encoders.includes(at[0] as number)),
        );
        if (line) joiners.push({ taker: t, spot: line.spot, line });
      }
    if (joiners.length === 0) return { ...reduced(g, p.room), joiners };
    const { bps, q } = g.make;
    let best = Number.NEGATIVE_INFINITY;
    let at = 0;
    for (let i = 0; i <= g.last; i++) {
      let v = g.weight * (q[i] as number) - priceAt(g, i, p.room);
      for (const { taker, spot, line } of joiners) {
        const index = indexOf(spot, bps[i] as number);
        if (index >= 0) v += Math.max(0, (line.values[index] as number) - (takers[taker.index] as number));
      }
      if (v > best) [best, at] = [v, i];
    }
    const chosen = joiners.filter(({ taker, spot, line }) => {
      const index = indexOf(spot, bps[at] as number);
      return index >= 0 && (line.values[index] as number) > (takers[taker.index] as number);
    });
    return { value: best, at, joiners: chosen };
  }

  /** What others would pay to join a new engine at each of a spot's bitrates; null: nobody would. */
  joining(n: Standing, spot: Spot, encoders: readonly number[], p: Prices, takers: readonly number[]): Float64Array | null {
    let sums: Float64Array | null = null;
    for (let i = n.depth + 1; i < this.scope.order.length; i++) {
      const t = this.scope.order[i] as Taker;
      if (!((p.engine[t.index] as number) > 0) || alone(t)) continue;
      const line = (this.lines[t.index] ?? []).find(
        (l) => l.spot.terms.picture === spot.terms.picture && l.spot.encoders.some((at) => encoders.includes(at[0] as number)),
      );
      if (!line) continue;
      for (let b = 0; b < spot.make.bps.length; b++) {
        const index = indexOf(line.spot, spot.make.bps[b] as number);
        const gain = index < 0 ? 0 : (line.values[index] as number) - (takers[t.index] as number);
        if (gain <= 0) continue;
        sums ??= new Float64Array(spot.make.bps.length);
        sums[b] = (sums[b] as number) + gain;
      }
    }
    return sums;
  }

  /** Who would be in the engines counted, and what they load. */
  private countEngines(n: Standing, p: Prices, takers: readonly number[], racks: readonly Rack[], slope: Prices, counts: number[]): void {
    for (const { kind, picks } of racks)
      for (const { cell } of picks)
        for (let i = n.depth; i < this.scope.order.length; i++) {
          const t = this.scope.order[i] as Taker;
          for (const line of this.lines[t.index] ?? []) {
            if (line.group !== kind || !((p.engine[t.index] as number) > 0) || alone(t)) continue;
            let best = -1;
            let most = takers[t.index] as number;
            for (let b = 0; b < line.cells.length; b++)
              if (line.cells[b] === cell && (line.values[b] as number) > most) {
                best = b;
                most = line.values[b] as number;
              }
            if (best < 0) continue;
            counts[t.index] = (counts[t.index] as number) + 1;
            this.subtract(line.spot, t, p.room, line.spot.make.bps[best] as number, slope.room);
          }
        }
  }

  private subtract(spot: Spot, t: Taker, room: readonly number[], bps: number, slope: number[]): void {
    const at = indexOf(spot, bps);
    if (at < 0) return;
    let best = Number.NEGATIVE_INFINITY;
    let chosen: { way: Spot["ways"][number]; route: readonly number[] } | null = null;
    for (const way of spot.ways)
      for (const route of at > way.last ? [] : way.hull ? [cheapest(way, room)] : way.routes) {
        const value =
          t.weight * (spot.make.q[at] as number) -
          route.reduce((sum, u, k) => sum + (room[u] as number) * (way.tables[k]?.[at] as number), 0);
        if (value > best) {
          best = value;
          chosen = { way, route };
        }
      }
    chosen?.route.forEach((u, k) => {
      slope[u] = (slope[u] as number) - (chosen?.way.tables[k]?.[at] as number);
    });
  }
}

/** Those for whom no engine is priced: a ladder has engines of its own, and behind a relay none is needed. */
const alone = (t: Taker) => t.ladder || t.relay !== null;
