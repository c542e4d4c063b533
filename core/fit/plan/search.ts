import { Bound, type Parts, type Prices } from "./bound";
import { Branches, type Change, type Node } from "./branches";
import { descend } from "./descend";
import type { Group } from "./groups";
import { Heap } from "./heap";
import type { Model } from "./model";
import { Narrowing } from "./narrow";
import { type Routed, route } from "./routing";
import { type Limits, Scope } from "./scope";
import { EPSILON } from "./slack";
import { bestOfSpot, type Spot } from "./spots";
import { tieCanWin } from "./ties";

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

const DEFAULT_NODES = 1_000_000;
/** Steps of the descent at the root and at every node: more make fewer nodes, and each dearer. */
const ROOT_STEPS = 80;
const NODE_STEPS = 8;
/** Share of the gap by which a child may promise less than the best that waits, and is still gone on with. */
const DIVE = 0.3;

/** Whether a has more points than b, or as many with fewer engines or less load. */
export const better = (a: Found, b: Found | null): boolean =>
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
  private readonly queue = new Heap<{ parent: Node; change: Change }>();
  private next: Node | null;
  private least: number;
  private readonly scope: Scope;
  private readonly bound: Bound;
  private readonly branches: Branches;
  private root: { parts: Parts; spots: Map<Spot, number> } | null = null;

  private readonly top: Node;

  constructor(
    model: Model,
    private readonly limits: Limits,
    start?: Prices,
  ) {
    this.scope = new Scope(model, limits);
    this.bound = new Bound(this.scope);
    this.branches = new Branches(this.scope, this.bound, () => this.floor());
    const { problem } = model;
    this.top = {
      depth: 0,
      groups: [],
      enginesLeft: limits.engines,
      lumaLeft: problem.encoders.map((e) => e.maxLumaPerS),
      feedsLeft: problem.encoders.map((e) => e.maxFeeds),
      prices: start ?? {
        room: problem.uplinks.map(() => 0),
        engine: problem.destinations.map(() => 0),
      },
      bound: Number.POSITIVE_INFINITY,
    };
    this.least = limits.atLeast ?? Number.NEGATIVE_INFINITY;
    this.tighten(this.top, start ? NODE_STEPS : ROOT_STEPS);
    this.next = this.top;
  }

  /** An answer of so many points is known: only as good or better ones are looked for from now on. */
  hearOf(points: number): void {
    this.least = Math.max(this.least, points);
  }

  /** Branches taken so far. */
  get count(): number {
    return this.nodes;
  }

  get prices(): Prices {
    return this.top.prices;
  }

  /** No answer has more points than this. */
  get most(): number {
    return this.top.bound;
  }

  /**
   * What every single choice can come to in an answer of at least `floor` points, by the better of two prices for engines;
   * null: there are too many feeds to say.
   */
  narrowing(floor: number): Narrowing | null {
    const { room, engine } = this.top.prices;
    const free = { room, engine: engine.map(() => 0) };
    const at = (prices: Prices) => Narrowing.of(this.scope, this.bound, this.bound.at(this.top, prices, null), prices, floor);
    const without = at(free);
    if (!without || engine.every((price) => price === 0)) return without;
    const priced = at(this.top.prices);
    return priced && priced.bound < without.bound ? priced : without;
  }

  /** Searches until it is done, or so many branches more were taken; goes on where it was when it is called again. */
  run(mostNodes = this.limits.mostNodes ?? DEFAULT_NODES): SearchResult {
    this.root ??= this.rootOf(this.top);
    const proved = this.explore(this.nodes + mostNodes);
    const points = this.best?.allocation.points ?? Number.NEGATIVE_INFINITY;
    const open = proved ? points : Math.max(points, this.next?.bound ?? points, this.queue.top);
    return { best: this.best, bound: open, proved, nodes: this.nodes };
  }

  private floor(): number {
    return Math.max(this.least, this.best?.allocation.points ?? Number.NEGATIVE_INFINITY);
  }

  private tighten(n: Node, steps: number): void {
    // Where any answer will do, bounds only tell what is possible at all.
    const { bound, prices } = descend(this.bound, n, n.prices, this.limits.anyWillDo ? 1 : steps, n.bound, this.floor());
    Object.assign(n, { bound, prices });
  }

  /** The root's bound in parts, from which it is seen what cannot belong to any better answer. */
  private rootOf(root: Node) {
    const parts = this.bound.at(root, root.prices, null);
    const spots = new Map<Spot, number>();
    for (const t of this.scope.order)
      for (const spot of this.scope.spots[t.index] ?? []) spots.set(spot, bestOfSpot(spot, t.weight, root.prices.room));
    return { parts, spots };
  }

  /** Leaves out every picture of a destination with which even the root's bound falls short of the best answer. */
  private sift(): void {
    if (!this.root) return;
    const { parts, spots } = this.root;
    const floor = this.floor();
    for (const t of this.scope.order) {
      // In an engine it shares, it may be worth what it gives up and no more; the engine's own worth is in the bound already.
      const rest = parts.value - (parts.takers[t.index] as number);
      const kept = (this.scope.spots[t.index] ?? []).filter((spot) => rest + (spots.get(spot) as number) >= floor - EPSILON);
      if (kept.length === this.scope.spots[t.index]?.length) continue;
      this.scope.spots[t.index] = kept;
      this.bound.keepOnly(t.index, new Set(kept));
    }
  }

  /** Whether nothing under a node can beat the best: fewer points, or as many with no fewer engines and no less load. */
  private hopeless(n: Node): boolean {
    if (n.bound === Number.NEGATIVE_INFINITY || n.bound < this.floor() - EPSILON) return true;
    if (!this.best || n.bound > this.best.allocation.points + EPSILON) return false;
    return (
      [...n.prices.room, ...n.prices.engine].every((p) => p === 0) &&
      !tieCanWin(n, this.scope.order, this.scope.spots, this.best, (node, t) => this.scope.mostPassed(node, t))
    );
  }

  /** The branch that promises most first; from each, straight on as long as the way on promises nearly as much. true: all is done. */
  private explore(until: number): boolean {
    const { queue } = this;
    for (;;) {
      if (this.limits.anyWillDo && this.best) return true;
      if (!this.next) {
        const waiting = queue.pop();
        if (!waiting || waiting.change.bound < this.floor() - EPSILON) return true;
        this.next = this.opened(waiting.parent, waiting.change);
        // What promises less than it did waits again.
        if (this.next && this.next.bound < queue.top - EPSILON) {
          queue.push(this.next.bound, { parent: waiting.parent, change: { ...waiting.change, bound: this.next.bound } });
          this.next = null;
        }
        if (!this.next) continue;
      }
      if (this.nodes >= until) return false;
      this.nodes++;
      this.next = this.expand(this.next);
    }
  }

  /** Takes up the children of a node; gives the one to go on with at once, if any. */
  private expand(n: Node): Node | null {
    const { queue } = this;
    if (n.depth === this.scope.order.length) {
      this.settle(n);
      return null;
    }
    const children = this.branches.of(n).sort((a, b) => b.bound - a.bound);
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
    const child = this.branches.childOf(n, change);
    if (!child) return null;
    if (child.depth < this.scope.order.length) this.tighten(child, NODE_STEPS);
    return this.hopeless(child) ? null : child;
  }

  private settle(n: Node): void {
    const engines = n.groups.reduce((sum, g) => sum + g.make.engines * g.encoders.length, 0);
    const { best } = this;
    // As many points do only with fewer engines, or with as many and less load.
    const tieLoadBps = !best || engines < best.engines ? Number.POSITIVE_INFINITY : engines > best.engines ? 0 : best.allocation.loadBps;
    const routed = route(n.groups, this.limits.roomBps, n.prices.room, this.floor(), tieLoadBps, this.limits.anyWillDo);
    if (!routed) return;
    const found = { ...routed, groups: n.groups, engines };
    if (!better(found, best)) return;
    this.best = found;
    this.sift();
  }
}
