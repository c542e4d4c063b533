import { type Choice, piecesOf, type Stand } from "./choices";
import { Heap } from "./heap";
import { add, type Losses, Shares } from "./losses";
import type { Makes } from "./makes";
import type { Taker } from "./model";
import { packs, type Racks, settingsKey, type Told } from "./packing";
import { sumsOf } from "./sets";
import { EPSILON, NOTHING } from "./slack";
import { Subsets } from "./subsets";

/** What becomes of a destination: told a choice, passed on by its relay, or left out. */
export type Pick = Choice | "passed" | "out";

interface Node {
  /** By place in the order. */
  picks: readonly Pick[];
  bound: number;
}

export interface Question {
  stands: readonly Stand[];
  roomBps: readonly number[];
  cellBps: number;
  /** Points a bit/s at which uplinks are priced to see which subsets matter. */
  prices: readonly number[];
  racks: Racks;
  makes: Makes;
  /** What all engines are worth to those who give something up for them. */
  enginesWorth: number;
}

/** A feed of which it is decided what it is told. */
interface Feed {
  bit: number;
  choice: Choice;
  feed: number;
  points: number;
}

/**
 * Goes through what each destination may be told, exactly to the bitrate, by falling bound: the best partition of all feeds
 * over the uplinks with what is decided, and what the engines left are worth to the rest. Whether encoders can run it and
 * what it comes to in the end is for whoever hears of it.
 */
export class Settle {
  private readonly order: readonly Stand[];
  /** By place in the order, its pieces' bits; those decided first have the highest. */
  private readonly bits: readonly (readonly number[])[];
  private readonly subsets: Subsets;
  private readonly full: number;
  /** Priced worth of a piece at its best. */
  private readonly worth: Float64Array;
  private readonly priceOfRoom: readonly number[];
  /** By uplink, the sets that may be on it, whatever else is, in an answer that counts. */
  private readonly hopeful: readonly (readonly number[])[];
  private readonly shares: Shares;
  private readonly queue = new Heap<Node>();
  nodes = 0;

  constructor(
    private readonly question: Question,
    private readonly floor: () => number,
    /** The best answer so far. */
    private readonly best: () => { points: number; engines: number; loadBps: number } | null,
  ) {
    const { stands, roomBps, cellBps, prices } = question;
    // Relays first, since others hang on them; then those with the fewest choices.
    this.order = [...stands].sort((a, b) => rank(a.taker) - rank(b.taker) || a.choices.length - b.choices.length);
    const byBit = [...this.order].reverse();
    const pieces = piecesOf(byBit, roomBps, cellBps);
    let at = 0;
    const own = byBit.map(({ feeds }) => Array.from({ length: feeds }, () => at++));
    this.bits = own.reverse();
    this.full = (1 << pieces.length) - 1;
    this.subsets = new Subsets(pieces, roomBps, cellBps);
    const worth = byBit.flatMap((stand) => Array.from({ length: stand.feeds }, (_, feed) => pricedWorth(stand, feed, prices)));
    this.worth = sumsOf(worth, (value) => value);
    this.priceOfRoom = roomBps.map((room, u) => room * (prices[u] as number));
    this.shares = new Shares(this.full);
    const gap = this.priced(this.full) + question.enginesWorth - (floor() - EPSILON);
    this.hopeful = roomBps.map((_, u) => {
      const sets: number[] = [];
      for (let set = 0; set <= this.full; set++)
        if ((this.worth[set] as number) - this.subsets.atPrice(u, set, prices[u] as number) <= gap) sets.push(set);
      return sets;
    });
    const possible = this.order.every((s) => s.choices.length > 0 || s.out !== NOTHING) && this.packs([]);
    if (possible) this.queue.push(0, { picks: [], bound: Number.POSITIVE_INFINITY });
  }

  /** Subsets that each bound looks at. */
  get size(): number {
    return this.full + 1;
  }

  /**
   * Tells of ways that may reach the floor, the most promising first, until there are none or so many bounds were worked
   * out; goes on where it was when it is called again. true: there are none left.
   */
  run(tell: (picks: ReadonlyMap<number, Pick>) => void, mostNodes: number): boolean {
    const until = this.nodes + mostNodes;
    while (this.queue.size > 0 && this.nodes < until) {
      const node = this.queue.pop() as Node;
      if (node.bound < this.floor() - EPSILON) return true;
      if (this.onlyTies(node.picks, node.bound)) continue;
      if (node.picks.length === this.order.length) {
        tell(new Map(node.picks.map((pick, n) => [this.order[n]?.taker.index as number, pick])));
        continue;
      }
      for (const pick of this.picksOf(node.picks)) {
        const picks = [...node.picks, pick];
        const bound = Math.min(node.bound, this.boundOf(picks));
        if (bound < this.floor() - EPSILON) continue;
        if (this.onlyTies(picks, bound) || (typeof pick !== "string" && !this.packs(picks))) continue;
        // Of as many points the one that is decided furthest first.
        this.queue.push(bound + 0.001 * picks.length, { picks, bound });
      }
    }
    return this.queue.size === 0;
  }

  /** Whether picks come to no more points than the best answer, and to as many only with more engines or more load. */
  private onlyTies(picks: readonly Pick[], bound: number): boolean {
    const best = this.best();
    // Points are whole numbers.
    if (!best || bound > best.points + 0.5) return false;
    const running = new Map<string, number>();
    let loadBps = 0;
    this.order.forEach((stand, n) => {
      const pick = picks[n];
      if (pick !== undefined && typeof pick !== "string") running.set(settingsKey({ taker: stand.taker, choice: pick }), pick.engines);
      const open = pick === undefined ? (stand.out === NOTHING ? stand.choices : []) : typeof pick === "string" ? [] : [pick];
      const least = Math.min(...open.map((c) => c.loads.reduce((sum, list) => sum + Math.min(...list), 0)));
      if (Number.isFinite(least)) loadBps += least;
    });
    const engines = [...running.values()].reduce((sum, count) => sum + count, 0);
    return engines > best.engines || (engines === best.engines && loadBps >= best.loadBps - 0.5);
  }

  private picksOf(picks: readonly Pick[]): Pick[] {
    const { taker, choices, out } = this.order[picks.length] as Stand;
    const all: Pick[] = [...choices];
    if (out === NOTHING) return all;
    if (!taker.given.must) all.push("out");
    if (taker.relay !== null && this.passedAt(taker, picks) > NOTHING) all.push("passed");
    return all;
  }

  /** The most that a destination comes to behind its relay. */
  private passedAt(taker: Taker, picks: readonly Pick[]): number {
    const at = this.order.findIndex((s) => s.taker.index === taker.relay);
    const relay = this.order[at];
    if (!relay) return NOTHING;
    const pick = picks[at];
    const told = pick === undefined ? relay.choices : typeof pick === "string" ? [] : [pick];
    let most = NOTHING;
    for (const c of told) if (taker.terms.some((t) => t.picture === c.terms.picture)) most = Math.max(most, taker.weight * c.q);
    return most;
  }

  private told(picks: readonly Pick[]): Told[] {
    return picks.flatMap((choice, n) => (typeof choice === "string" ? [] : [{ taker: (this.order[n] as Stand).taker, choice }]));
  }

  /** Whether encoders can run what is decided, and send at least one feed to everybody else who must be sent something. */
  private packs(picks: readonly Pick[]): boolean {
    const { racks, makes } = this.question;
    const told = this.told(picks);
    const sent = ({ taker }: { taker: Taker }) => (taker.given.backup ? 2 : 1);
    const waiting = this.order.slice(picks.length).filter((s) => s.out === NOTHING);
    const feeds = [...told, ...waiting].reduce((sum, one) => sum + sent(one), 0);
    return feeds <= racks.feeds.reduce((sum, n) => sum + n, 0) && packs(told, racks, makes);
  }

  /** The most that any way with these picks comes to. */
  boundOf(picks: readonly Pick[]): number {
    this.nodes++;
    const { roomBps } = this.question;
    let active = this.full;
    let decided = 0;
    let sure = this.enginesOf(picks);
    const feeds: Feed[] = [];
    picks.forEach((pick, n) => {
      const { taker } = this.order[n] as Stand;
      const bits = this.bits[n] as readonly number[];
      for (const bit of bits) {
        decided |= 1 << bit;
        if (typeof pick === "string") active &= ~(1 << bit);
      }
      if (pick === "passed") sure += this.passedAt(taker, picks);
      else if (pick !== "out")
        for (const [feed, bit] of bits.entries()) feeds.push({ bit, choice: pick, feed, points: pick.points / bits.length });
    });
    const outs = this.outsOf(picks, decided);
    const gap = this.priced(active) + sure - (this.floor() - EPSILON);
    if (gap < 0) return NOTHING;
    const lists = roomBps.map((_, u) => this.lossesOn(u, active, decided, feeds, gap));
    if (outs) lists.push(this.lossesOut(outs, active, gap));
    return this.priced(active) + sure - this.shares.leastLoss(lists, active, gap);
  }

  private priced(active: number): number {
    return this.priceOfRoom.reduce((sum, value) => sum + value, this.worth[active] as number);
  }

  /** What undecided destinations may be worth left out, by subset; null: none may be. */
  private outsOf(picks: readonly Pick[], decided: number): Float64Array | null {
    const undecided = this.order.slice(picks.length);
    if (undecided.every((s) => s.out === NOTHING)) return null;
    const outs = new Float64Array(this.full + 1).fill(NOTHING);
    outs[0] = 0;
    const by = new Map<number, number>();
    undecided.forEach((s, i) => {
      const most =
        s.out === NOTHING
          ? NOTHING
          : Math.max(s.taker.given.must ? NOTHING : 0, s.taker.relay === null ? NOTHING : this.passedAt(s.taker, picks));
      for (const bit of this.bits[picks.length + i] as readonly number[]) by.set(bit, (most - s.outGives) / s.feeds);
    });
    const low = this.full & ~decided;
    for (let s = 1; s <= low; s++) {
      if (s & ~low) continue;
      const bit = 31 - Math.clz32(s);
      outs[s] = (outs[s & ~(1 << bit)] as number) + (by.get(bit) ?? NOTHING);
    }
    return outs;
  }

  private lossesOut(outs: Float64Array, active: number, gap: number): Losses {
    const found: Losses = { sets: [], losses: [] };
    for (let set = active; ; set = (set - 1) & active) {
      const loss = (this.worth[set] as number) - (outs[set] as number);
      if (loss <= gap) add(found, set, loss);
      if (set === 0) return found;
    }
  }

  /** What each set on an uplink falls short of its priced worth. */
  private lossesOn(u: number, active: number, decided: number, feeds: readonly Feed[], gap: number): Losses {
    const room = this.question.roomBps[u] as number;
    const price = this.priceOfRoom[u] as number;
    const sums = [{ set: 0, load: 0, points: 0 }];
    for (const { bit, choice, feed, points } of feeds) {
      const own = choice.loads[feed]?.[u] as number;
      for (let i = sums.length - 1; i >= 0; i--) {
        const { set, load, points: before } = sums[i] as (typeof sums)[number];
        if (load + own <= room) sums.push({ set: set | (1 << bit), load: load + own, points: before + points });
      }
    }
    const found: Losses = { sets: [], losses: [] };
    const closed = decided | (this.full & ~active);
    for (const rest of this.hopeful[u] as readonly number[]) {
      // What is decided is counted apart, by what it is told.
      if (rest & closed) continue;
      for (const { set, load, points } of sums) {
        const value = this.subsets.within(u, rest, room - load);
        const loss = price + (this.worth[set | rest] as number) - value - points;
        if (loss <= gap) add(found, set | rest, loss);
      }
    }
    return found;
  }

  /** What engines can still be worth to the undecided who give something up for them. */
  private enginesOf(picks: readonly Pick[]): number {
    const { enginesWorth, racks } = this.question;
    let most = enginesWorth;
    picks.forEach((pick, n) => {
      if (typeof pick === "string") most -= (this.order[n] as Stand).outGives;
    });
    const running = new Set<string>();
    let engines = racks.engines.reduce((sum, n) => sum + n, 0);
    for (const t of this.told(picks)) {
      most -= t.choice.gives.least;
      const key = settingsKey(t);
      if (!running.has(key)) engines -= t.choice.engines * (t.choice.encoders[0]?.length ?? 1);
      running.add(key);
    }
    const sums = new Map<string, number>();
    let own = 0;
    for (const { taker, choices, outGives } of this.order.slice(picks.length)) {
      own += Math.max(0, outGives);
      for (const choice of choices) {
        const key = settingsKey({ taker, choice });
        if (choice.gives.most > 0) sums.set(key, (sums.get(key) ?? 0) + choice.gives.most);
      }
    }
    const fresh: number[] = [];
    for (const [key, sum] of sums)
      if (running.has(key)) own += sum;
      else fresh.push(sum);
    fresh.sort((a, b) => b - a);
    for (const sum of fresh.slice(0, Math.max(0, engines))) own += sum;
    return Math.min(most, own);
  }
}

/** The most that a destination's feed is worth at these prices of uplinks, whether it gives up something or not. */
function pricedWorth({ choices, feeds, out, outGives }: Stand, feed: number, prices: readonly number[]): number {
  let most = (out - Math.min(0, outGives)) / feeds;
  for (const { loads, points, gives } of choices)
    loads[feed]?.forEach((load, u) => {
      if (Number.isFinite(load)) most = Math.max(most, (points - Math.min(0, gives.least)) / feeds - (prices[u] as number) * load);
    });
  return most;
}

const rank = (t: Taker) => (t.given.relay ? 0 : 1);
