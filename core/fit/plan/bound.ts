import { type Group, priceAt, reduced, takeFrom } from "./groups";
import { indexOf, type Line, valuesOf } from "./lines";
import type { Taker } from "./model";
import type { Scope } from "./scope";
import { addBestOfSpot, bestOfSpot, cheapest, type Spot, topOf } from "./spots";

/** What is left to those not decided yet, and what runs already. */
export interface Standing {
  /** Place in the order from which on nothing is decided. */
  depth: number;
  groups: readonly Group[];
  enginesLeft: readonly number[];
  lumaLeft: readonly number[];
  feedsLeft: readonly number[];
}

/** Multipliers of the relaxation: points a bit/s by uplink, points given up by a destination that must find an engine, points a luma sample by encoder. */
export interface Prices {
  room: number[];
  engine: number[];
  luma: number[];
}

export const copyOf = (p: Prices): Prices => ({ room: [...p.room], engine: [...p.engine], luma: [...p.luma] });

/** Parts of a bound from which those of its children follow. */
export interface Parts {
  value: number;
  /** What each destination may add, by index, after what it gives up. */
  takers: number[];
  groups: number[];
  /** The least of the engines counted on an encoder; 0 where one is left over. */
  lastEngine: number[];
}

/** Bitrates nearer than this count as one when it is bounded who may share; it only loosens the bound. */
const CELL_BPS = 50_000;

/**
 * Bounds from above what a partly decided plan can come to: uplinks, luma and the rule that whoever is sent something has
 * an engine for it are relaxed with prices (Lagrangian relaxation, Geoffrion 1974; the engines as in facility location,
 * Erlenkotter 1978). Any prices give a true bound; `descend` looks for good ones.
 */
export class Bound {
  private readonly lines: Line[][];
  /** What others would pay for each picture and bitrate, by kind of encoder; and the cells of it that are in use. */
  private readonly shares: Map<number, { sums: Float64Array; used: number[] }>;
  private readonly cells: number;
  private readonly luma: number[] = [];
  private readonly kinds: number[];

  constructor(private readonly scope: Scope) {
    const { model, spots } = scope;
    let top = 0;
    for (const list of spots) for (const s of list) top = Math.max(top, s.make.bps[s.make.bps.length - 1] as number);
    this.cells = Math.floor(top / CELL_BPS) + 2;
    this.kinds = [...new Set(model.alike)];
    let pictures = 0;
    this.lines = spots.map((list) =>
      list.flatMap((spot) => {
        const { index } = spot.terms.picture;
        pictures = Math.max(pictures, index + 1);
        this.luma[index] = spot.make.lumaPerS;
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
    this.shares = new Map(this.kinds.map((kind) => [kind, { sums: new Float64Array(pictures * this.cells), used: [] }]));
  }

  /** Leaves out spots that cannot belong to a better answer. */
  keepOnly(taker: number, kept: ReadonlySet<Spot>): void {
    this.lines[taker] = (this.lines[taker] ?? []).filter((line) => kept.has(line.spot));
  }

  /** Whether a new engine can be had for a spot from these encoders. */
  hasRoom(n: Standing, spot: Spot, encoders: readonly number[]): boolean {
    const { make } = spot;
    const feeds = spot.ways[0]?.tables.length ?? 1;
    const each = encoders.length === 1 ? feeds * make.engines : make.engines;
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

  /** The bound at given prices, and how it changes with them: what is over on uplinks and luma, and who has engines too few (−1) or too many. */
  at(n: Standing, p: Prices, slope: Prices | null): Parts {
    const { order } = this.scope;
    const { roomBps } = this.scope.limits;
    let value = 0;
    for (let u = 0; u < roomBps.length; u++) {
      value += (p.room[u] as number) * (roomBps[u] as number);
      if (slope) slope.room[u] = roomBps[u] as number;
    }
    for (let e = 0; e < n.lumaLeft.length; e++) {
      value += (p.luma[e] as number) * (n.lumaLeft[e] as number);
      if (slope) slope.luma[e] = n.lumaLeft[e] as number;
    }
    const takers: number[] = [];
    const own: (Spot | null)[] = [];
    const counts: number[] = [];
    let priced = false;
    for (const { sums, used } of this.shares.values()) {
      for (const cell of used) sums[cell] = 0;
      used.length = 0;
    }
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
      if (most === Number.NEGATIVE_INFINITY) return { value: most, takers, groups: [], lastEngine: [] };
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
    const lastEngine = n.enginesLeft.map(() => 0);
    slope?.engine.fill(0);
    if (priced) value += this.engines(n, p, takers, lastEngine, slope, counts);
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
    return { value, takers, groups, lastEngine };
  }

  /** Adds what a destination would give to be in an engine, picture by picture and bitrate by bitrate. */
  private share(t: Taker, wanted: number, room: readonly number[]): void {
    for (const line of this.lines[t.index] ?? []) {
      if (t.weight * topOf(line.spot) <= wanted) {
        line.values.fill(Number.NEGATIVE_INFINITY);
        continue;
      }
      const { sums, used } = this.shares.get(line.group) as { sums: Float64Array; used: number[] };
      const add = (cell: number, gain: number) => {
        if (sums[cell] === 0) used.push(cell);
        sums[cell] = (sums[cell] as number) + gain;
      };
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

  /** The engines left on each encoder go to what is worth most. */
  private engines(n: Standing, p: Prices, takers: readonly number[], lastEngine: number[], slope: Prices | null, counts: number[]): number {
    let value = 0;
    for (let e = 0; e < n.enginesLeft.length; e++) {
      const count = n.enginesLeft[e] as number;
      if (count <= 0) continue;
      const kind = this.scope.model.alike[e] as number;
      const { sums, used } = this.shares.get(kind) as { sums: Float64Array; used: number[] };
      const picks: { cell: number; worth: number }[] = [];
      for (const cell of used) {
        const sum = sums[cell] as number;
        const luma = this.luma[Math.floor(cell / this.cells)] as number;
        if (luma > (n.lumaLeft[e] as number)) continue;
        const worth = sum - (p.luma[e] as number) * luma;
        if (worth <= 0 || (picks.length === count && worth <= (picks[count - 1]?.worth as number))) continue;
        let at = picks.length;
        while (at > 0 && (picks[at - 1]?.worth as number) < worth) at--;
        picks.splice(at, 0, { cell, worth });
        if (picks.length > count) picks.pop();
      }
      if (picks.length === count) lastEngine[e] = picks[count - 1]?.worth as number;
      for (const { cell, worth } of picks) {
        value += worth;
        if (!slope) continue;
        slope.luma[e] = (slope.luma[e] as number) - (this.luma[Math.floor(cell / this.cells)] as number);
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
    }
    return value;
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
