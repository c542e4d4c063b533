import { Bound, copyOf, type Parts, type Prices } from "./bound";
import { feedsFrom, type Group, groupOf, type Member } from "./groups";
import { Heap } from "./heap";
import type { Make } from "./makes";
import type { Model, Taker } from "./model";
import { type Routed, route } from "./routing";
import { bestOfSpot, type Spot, spotsOf, topOf, type Way, waysOf } from "./spots";
import type { Terms } from "./terms";
import { tieCanWin } from "./ties";

/** What a search may have, and what it must keep to. Lists go by index into the problem's. */
export interface Limits {
  roomBps: readonly number[];
  engines: readonly number[];
  /** Destinations left out altogether. */
  without?: ReadonlySet<number>;
  /** A destination and the kind that it may not have: a picture's number, or NOT_SERVED. */
  not?: { taker: number; kind: number };
  /** The first answer that serves every `must` will do. */
  anyWillDo?: boolean;
  /** Points that are known to be reached; only better or equal answers are looked for. */
  atLeast?: number;
  mostNodes?: number;
}

export interface Found extends Routed {
  groups: readonly Group[];
  engines: number;
}

export interface SearchResult {
  best: Found | null;
  /** No answer has more points than this; equal to the best's when it is proved. */
  bound: number;
  proved: boolean;
  nodes: number;
}

interface Node {
  depth: number;
  groups: readonly Group[];
  enginesLeft: readonly number[];
  lumaLeft: readonly number[];
  feedsLeft: readonly number[];
  prices: Prices;
  bound: number;
}

/** What a child does to its node's groups: nothing, one more, or one that takes the place of others. */
interface Change {
  groups: readonly Group[];
  old?: readonly Group[];
  group?: Group;
  /** The most it can come to at its node's prices. */
  bound: number;
}

/** Groups with no encoder in common. */
const apart = (a: Group, b: Group) => !a.encoders.some((e) => b.encoders.includes(e));

type Grow = (old: readonly Group[], member: Member, encoders: readonly number[]) => void;

export const NOT_SERVED = -1;

const EPSILON = 0.01;
const DEFAULT_NODES = 1_000_000;
/** Steps of the descent at the root and at every node: more make fewer nodes, and each dearer. */
const ROOT_STEPS = 150;
const NODE_STEPS = 8;
/** Share of the gap by which a child may promise less than the best that waits, and is still gone on with. */
const DIVE = 0.3;

/** Whether a has more points than b, or as many with fewer engines or less load. */
const better = (a: Found, b: Found | null): boolean =>
  b === null ||
  a.allocation.points > b.allocation.points ||
  (a.allocation.points === b.allocation.points &&
    (a.engines < b.engines || (a.engines === b.engines && a.allocation.loadBps < b.allocation.loadBps - 0.5)));

/**
 * Searches the true optimum by branch and bound: destination by destination, each joins what runs already, gets an engine
 * of its own, goes through a relay, or is left out; bitrates are settled exactly at the end. A branch is dropped when its
 * bound cannot beat the best answer so far.
 */
export class Search {
  private best: Found | null = null;
  private nodes = 0;
  private openBound = Number.NEGATIVE_INFINITY;
  private stopped = false;
  private readonly order: Taker[];
  private readonly spots: Spot[][];
  private readonly bound: Bound;
  private readonly ways = new Map<Make, Map<string, Way[]>>();
  private root: { parts: Parts; spots: Map<Spot, number> } | null = null;

  constructor(
    private readonly model: Model,
    private readonly limits: Limits,
  ) {
    this.spots = model.takers.map((t) =>
      limits.without?.has(t.index) ? [] : spotsOf(model, t, limits.roomBps).filter((spot) => this.allowed(t, spot.terms.picture.index)),
    );
    this.order = this.inOrder();
    this.bound = new Bound(model, limits.roomBps, this.order, this.spots, this.mayGoWithout, this.mostPassed);
  }

  run(): SearchResult {
    const { problem } = this.model;
    const root: Node = {
      depth: 0,
      groups: [],
      enginesLeft: this.limits.engines,
      lumaLeft: problem.encoders.map((e) => e.maxLumaPerS),
      feedsLeft: problem.encoders.map((e) => e.maxFeeds),
      prices: { room: problem.uplinks.map(() => 0), engine: problem.destinations.map(() => 0), luma: problem.encoders.map(() => 0) },
      bound: Number.POSITIVE_INFINITY,
    };
    this.tighten(root, ROOT_STEPS);
    this.root = this.rootOf(root);
    this.explore(root);
    const points = this.best?.allocation.points ?? Number.NEGATIVE_INFINITY;
    return { best: this.best, bound: this.stopped ? Math.max(points, this.openBound) : points, proved: !this.stopped, nodes: this.nodes };
  }

  private allowed(taker: Taker, kind: number): boolean {
    const { not, without } = this.limits;
    return !without?.has(taker.index) && !(not && not.taker === taker.index && not.kind === kind);
  }

  private readonly mayGoWithout = (taker: Taker): boolean => !taker.given.must && this.allowed(taker, NOT_SERVED);

  /** Relays first, since others hang on them, then ladders; then those that must be served, then those that count most. */
  private inOrder(): Taker[] {
    const most = (t: Taker) => Math.max(0, ...(this.spots[t.index] ?? []).map((s) => t.weight * topOf(s)));
    const rank = (t: Taker) => (t.given.relay ? 0 : t.ladder ? 1 : 2);
    return this.model.takers
      .filter((t) => !this.limits.without?.has(t.index))
      .sort((a, b) => rank(a) - rank(b) || most(b) - most(a) || a.index - b.index);
  }

  private floor(): number {
    return Math.max(this.limits.atLeast ?? Number.NEGATIVE_INFINITY, this.best?.allocation.points ?? Number.NEGATIVE_INFINITY);
  }

  /** The most that a destination can add behind its relay: its own best picture, for nothing. */
  private readonly mostPassed = (n: { depth: number; groups: readonly Group[] }, taker: Taker): number => {
    if (taker.relay === null || this.limits.without?.has(taker.relay)) return Number.NEGATIVE_INFINITY;
    const decided = this.order.findIndex((t) => t.index === taker.relay) < n.depth;
    const group = this.relayed(n.groups, taker);
    if (decided && !group) return Number.NEGATIVE_INFINITY;
    let value = Number.NEGATIVE_INFINITY;
    for (const { picture } of taker.terms) {
      if (!this.allowed(taker, picture.index) || (group && group.make.picture !== picture)) continue;
      if (group) value = Math.max(value, taker.weight * (group.make.q[group.last] as number));
      else
        for (const spot of this.spots[taker.relay] ?? [])
          if (spot.terms.picture === picture) value = Math.max(value, taker.weight * topOf(spot));
    }
    return value;
  };

  private relayed(groups: readonly Group[], taker: Taker): Group | undefined {
    return groups.find((g) => g.make.engines === 1 && g.members.some((m) => m.taker.index === taker.relay && m.ways !== null));
  }

  private tighten(n: Node, steps: number): void {
    // Where any answer will do, bounds only tell what is possible at all.
    const { bound, prices } = this.bound.descend(n, n.prices, this.limits.anyWillDo ? 1 : steps, n.bound, this.floor());
    Object.assign(n, { bound, prices });
  }

  /** The root's bound in parts, from which it is seen what cannot belong to any better answer. */
  private rootOf(root: Node) {
    const parts = this.bound.at(root, root.prices, null);
    const spots = new Map<Spot, number>();
    for (const t of this.order) for (const spot of this.spots[t.index] ?? []) spots.set(spot, bestOfSpot(spot, t.weight, root.prices.room));
    return { parts, spots };
  }

  /** Leaves out every picture of a destination with which even the root's bound falls short of the best answer. */
  private sift(): void {
    if (!this.root) return;
    const { parts, spots } = this.root;
    const floor = this.floor();
    for (const t of this.order) {
      // In an engine it shares, it may be worth what it gives up and no more; the engine's own worth is in the bound already.
      const rest = parts.value - (parts.takers[t.index] as number);
      const kept = (this.spots[t.index] ?? []).filter((spot) => rest + (spots.get(spot) as number) >= floor - EPSILON);
      if (kept.length === this.spots[t.index]?.length) continue;
      this.spots[t.index] = kept;
      this.bound.keepOnly(t.index, new Set(kept));
    }
  }

  /** Whether nothing under a node can beat the best: fewer points, or as many with no fewer engines and no less load. */
  private hopeless(n: Node): boolean {
    if (n.bound < this.floor() - EPSILON) return true;
    if (!this.best || n.bound > this.best.allocation.points + EPSILON) return false;
    return (
      [...n.prices.room, ...n.prices.engine, ...n.prices.luma].every((p) => p === 0) &&
      !tieCanWin(n, this.order, this.spots, this.best, this.mostPassed)
    );
  }

  /** The branch that promises most first; from each, straight on as long as the way on promises nearly as much. */
  private explore(root: Node): void {
    const queue = new Heap<{ parent: Node; change: Change }>();
    let next: Node | null = root;
    for (;;) {
      if (this.limits.anyWillDo && this.best) return;
      if (!next) {
        const waiting = queue.pop();
        if (!waiting || waiting.change.bound < this.floor() - EPSILON) return;
        next = this.opened(waiting.parent, waiting.change);
        // What promises less than it did waits again.
        if (next && next.bound < queue.top - EPSILON) {
          queue.push(next.bound, { parent: waiting.parent, change: { ...waiting.change, bound: next.bound } });
          next = null;
        }
        if (!next) continue;
      }
      if (++this.nodes > (this.limits.mostNodes ?? DEFAULT_NODES)) {
        this.stopped = true;
        this.openBound = Math.max(next.bound, queue.top);
        return;
      }
      next = this.expand(next, queue);
    }
  }

  /** Takes up the children of a node; gives the one to go on with at once, if any. */
  private expand(n: Node, queue: Heap<{ parent: Node; change: Change }>): Node | null {
    if (n.depth === this.order.length) {
      this.settle(n);
      return null;
    }
    const children = this.childrenOf(n).sort((a, b) => b.bound - a.bound);
    let on: Node | null = null;
    for (const change of children) {
      if (change.bound < this.floor() - EPSILON) break;
      const opened: Node | null = on ? null : this.opened(n, change);
      if (on) queue.push(change.bound, { parent: n, change });
      else if (opened) {
        const slack = this.best ? DIVE * (queue.top - this.best.allocation.points) : Number.POSITIVE_INFINITY;
        if (!(opened.bound < queue.top - slack)) on = opened;
        else queue.push(opened.bound, { parent: n, change: { ...change, bound: opened.bound } });
      }
    }
    return on;
  }

  /** A child with its bound tightened; null: it does not fit, or gives no hope. */
  private opened(n: Node, change: Change): Node | null {
    const child = this.childOf(n, change);
    if (!child) return null;
    if (child.depth < this.order.length) this.tighten(child, NODE_STEPS);
    return this.hopeless(child) ? null : child;
  }

  private settle(n: Node): void {
    const engines = n.groups.reduce((sum, g) => sum + g.make.engines * g.encoders.length, 0);
    const { best } = this;
    // As many points do only with fewer engines, or with as many and less load.
    const tieLoadBps = !best || engines < best.engines ? Number.POSITIVE_INFINITY : engines > best.engines ? 0 : best.allocation.loadBps;
    const routed = route(n.groups, this.limits.roomBps, n.prices.room, this.floor(), tieLoadBps);
    if (!routed) return;
    const found = { ...routed, groups: n.groups, engines };
    if (!better(found, best)) return;
    this.best = found;
    this.sift();
  }

  private childrenOf(n: Node): Change[] {
    const taker = this.order[n.depth] as Taker;
    const parts = this.bound.at(n, n.prices, null);
    const others = parts.value - (parts.takers[taker.index] as number);
    const children: Change[] = [];
    if (this.mayGoWithout(taker)) children.push({ groups: n.groups, bound: others });
    const after = { ...n, depth: n.depth + 1 };
    const grown: Grow = (old, member, encoders) => {
      const group = this.grow(n, old, member, encoders);
      if (!group) return;
      const worth = this.bound.withJoiners(after, group, n.prices, parts.takers).value;
      const bound = old.reduce((sum, g) => sum - (parts.groups[n.groups.indexOf(g)] as number), others + worth);
      if (bound >= this.floor() - EPSILON)
        children.push({ groups: [...n.groups.filter((g) => !old.includes(g)), group], old, group, bound });
    };
    this.passedOn(n, taker, grown);
    if (!taker.ladder) this.joined(n, taker, grown);
    this.anew(n, taker, parts, others, children);
    return children;
  }

  private passedOn(n: Node, taker: Taker, grown: Grow): void {
    const group = taker.relay === null ? undefined : this.relayed(n.groups, taker);
    if (!group) return;
    for (const terms of taker.terms)
      if (terms.picture === group.make.picture && this.allowed(taker, terms.picture.index))
        grown([group], { taker, terms, ways: null, encoders: [] }, group.encoders);
  }

  /** Joins engines that run the same picture; a backup from another encoder may add an engine there, or join two groups into one. */
  private joined(n: Node, taker: Taker, grown: Grow): void {
    const left = new Set<Terms>((this.spots[taker.index] ?? []).map((spot) => spot.terms));
    for (const terms of left) {
      const same = n.groups.filter((g) => g.make.engines === 1 && g.make.picture === terms.picture);
      for (const encoders of taker.encoders) {
        const touched = same.filter((g) => encoders.some((e) => g.encoders.includes(e)));
        const join = (old: readonly Group[]) => {
          const all = [...new Set([...old.flatMap((g) => g.encoders), ...encoders])].sort((a, b) => a - b);
          grown(old, { taker, terms, ways: [], encoders }, all);
        };
        for (const g of touched) join([g]);
        if (encoders.length < 2) continue;
        for (const g of touched)
          for (const other of touched)
            if (n.groups.indexOf(g) < n.groups.indexOf(other) && apart(g, other) && !encoders.every((e) => g.encoders.includes(e)))
              join([g, other]);
      }
    }
  }

  private sharedMake(members: readonly Member[], encoders: readonly number[]) {
    const all = members.map((m) => m.terms).sort((a, b) => a.id - b.id);
    return this.model.makes.of(all, encoders)[0];
  }

  private grow(n: Node, old: readonly Group[], member: Member, encoders: readonly number[]): Group | null {
    const members = [...old.flatMap((g) => g.members), member];
    const make = this.sharedMake(members, encoders);
    return make ? this.groupOf(n, make, encoders, members) : null;
  }

  /** A group with the ways of each member; loads are the least that those who may still join could make of them. */
  private groupOf(n: Node, make: Make, encoders: readonly number[], members: readonly Member[]): Group | null {
    const least = Math.max(...members.map((m) => m.terms.audio.minBps));
    const audioBps = Math.min(make.base.audioBps, Math.max(least, this.laterAudio(n, make.picture.index)));
    const withWays = members.map((m) => {
      if (m.ways === null) return m;
      const way = m.taker.encoders.indexOf(m.encoders);
      return { ...m, ways: this.waysFor(make, m.taker, way, audioBps) };
    });
    return groupOf(make, encoders, withWays);
  }

  private waysFor(make: Make, taker: Taker, way: number, audioBps: number): Way[] {
    const key = `${taker.index} ${way} ${audioBps}`;
    const byKey = this.ways.get(make) ?? new Map<string, Way[]>();
    this.ways.set(make, byKey);
    let ways = byKey.get(key);
    if (!ways) {
      ways = waysOf(make, taker.protocols[way] ?? [], taker.routes, this.limits.roomBps, audioBps);
      byKey.set(key, ways);
    }
    return ways;
  }

  private anew(n: Node, taker: Taker, parts: Parts, others: number, children: Change[]): void {
    const { prices } = n;
    const state = (e: number) =>
      `${this.model.alike[e]}/${n.enginesLeft[e]}/${n.lumaLeft[e]}/${n.feedsLeft[e]}/${n.groups.flatMap((g, i) => (g.encoders.includes(e) ? [i] : [])).join()}`;
    const states = n.enginesLeft.map((_, e) => state(e));
    for (const spot of this.spots[taker.index] ?? []) {
      const { lumaPerS } = spot.make;
      const seen = new Set<string>();
      for (const encoders of spot.encoders) {
        if (!this.bound.hasRoom(n, spot, encoders)) continue;
        // Encoders that can do the same and are in the same state: one of them stands for all.
        const here = encoders.map((e) => states[e]).join(" ");
        if (seen.has(here)) continue;
        seen.add(here);
        const added = taker.ladder ? null : this.bound.joining(n, spot, encoders, prices, parts.takers);
        const taken = encoders.reduce((sum, e) => sum + (parts.lastEngine[e] as number) + (prices.luma[e] as number) * lumaPerS, 0);
        const worth = bestOfSpot(spot, taker.weight, prices.room, added);
        if (others - taken + worth < this.floor() - EPSILON) continue;
        const group = taker.ladder
          ? groupOf(spot.make, encoders, [{ taker, terms: spot.terms, ways: spot.ways, encoders }])
          : this.groupOf(n, spot.make, encoders, [{ taker, terms: spot.terms, ways: spot.ways, encoders }]);
        if (group) children.push({ groups: [...n.groups, group], group, bound: others - taken + worth });
      }
    }
  }

  /** The least audio bitrate that somebody undecided, who takes this picture, wishes for. */
  private laterAudio(n: Node, picture: number): number {
    let least = Number.POSITIVE_INFINITY;
    for (let i = n.depth + 1; i < this.order.length; i++)
      for (const t of (this.order[i] as Taker).terms) if (t.picture.index === picture) least = Math.min(least, t.audio.wishedBps);
    return least;
  }

  /** The child, if its engines, luma and feeds fit and the lightest bitrates fit the uplinks; null: they do not. */
  private childOf(n: Node, { groups, old, group, bound }: Change): Node | null {
    const child: Node = { ...n, depth: n.depth + 1, groups, bound, prices: copyOf(n.prices) };
    if (!group) return child;
    const left = { engines: [...n.enginesLeft], luma: [...n.lumaLeft], feeds: [...n.feedsLeft] };
    const count = (g: Group, sign: number) => {
      for (const e of g.encoders) {
        left.engines[e] = (left.engines[e] as number) - sign * g.make.engines;
        left.luma[e] = (left.luma[e] as number) - sign * g.make.lumaPerS;
        left.feeds[e] = (left.feeds[e] as number) - sign * feedsFrom(g, e);
      }
    };
    for (const g of old ?? []) count(g, -1);
    count(group, 1);
    if (group.encoders.some((e) => (left.engines[e] as number) < 0 || (left.luma[e] as number) < 0 || (left.feeds[e] as number) < 0))
      return null;
    for (let u = 0; u < this.limits.roomBps.length; u++) {
      let least = 0;
      for (const g of groups)
        for (const m of g.members) if (m.ways?.every((w) => w.routes.every((r) => r.includes(u)))) least += m.ways[0]?.tables[0]?.[0] ?? 0;
      if (least > (this.limits.roomBps[u] as number)) return null;
    }
    return Object.assign(child, { enginesLeft: left.engines, lumaLeft: left.luma, feedsLeft: left.feeds });
  }
}
