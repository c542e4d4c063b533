import { type Bound, copyOf, type Parts, type Prices } from "./bound";
import { feedsFrom, type Group, groupOf, type Member } from "./groups";
import type { Make } from "./makes";
import type { Taker } from "./model";
import type { Scope } from "./scope";
import { EPSILON } from "./slack";
import { bestOfSpot, type Way, waysOf } from "./spots";
import type { Terms } from "./terms";

/** A plan decided up to some depth of the order, and the most it can come to. */
export interface Node {
  depth: number;
  groups: readonly Group[];
  enginesLeft: readonly number[];
  lumaLeft: readonly number[];
  feedsLeft: readonly number[];
  prices: Prices;
  bound: number;
}

/** What a child does to its node's groups: nothing, one more, or one that takes the place of others. */
export interface Change {
  groups: readonly Group[];
  old?: readonly Group[];
  group?: Group;
  /** The most it can come to at its node's prices. */
  bound: number;
}

type Grow = (old: readonly Group[], member: Member, encoders: readonly number[]) => void;

/** Groups with no encoder in common. */
const apart = (a: Group, b: Group) => !a.encoders.some((e) => b.encoders.includes(e));

/** Everything that may become of the next destination of a node. */
export class Branches {
  private readonly ways = new Map<Make, Map<string, Way[]>>();

  constructor(
    private readonly scope: Scope,
    private readonly bound: Bound,
    /** Points that an answer must reach to count. */
    private readonly floor: () => number,
  ) {}

  of(n: Node): Change[] {
    const taker = this.scope.order[n.depth] as Taker;
    const parts = this.bound.at(n, n.prices, null);
    const others = parts.value - (parts.takers[taker.index] as number);
    const children: Change[] = [];
    if (this.scope.mayGoWithout(taker)) children.push({ groups: n.groups, bound: others });
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
    const group = taker.relay === null ? undefined : this.scope.relayed(n.groups, taker);
    if (!group) return;
    for (const terms of taker.terms)
      if (terms.picture === group.make.picture && this.scope.allowed(taker, terms.picture.index))
        grown([group], { taker, terms, ways: null, encoders: [] }, group.encoders);
  }

  /** Joins engines that run the same picture; a backup from another encoder may add an engine there, or join two groups into one. */
  private joined(n: Node, taker: Taker, grown: Grow): void {
    const left = new Set<Terms>((this.scope.spots[taker.index] ?? []).map((spot) => spot.terms));
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
    return this.scope.model.makes.of(all, encoders)[0];
  }

  private grow(n: Node, old: readonly Group[], member: Member, encoders: readonly number[]): Group | null {
    const members = [...old.flatMap((g) => g.members), member];
    const make = this.sharedMake(members, encoders);
    return make ? this.settledGroup(n, make, encoders, members) : null;
  }

  /** A group with the ways of each member; loads are the least that those who may still join could make of them. */
  private settledGroup(n: Node, make: Make, encoders: readonly number[], members: readonly Member[]): Group | null {
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
      ways = waysOf(make, taker.protocols[way] ?? [], taker.routes, this.scope.limits.roomBps, audioBps);
      byKey.set(key, ways);
    }
    return ways;
  }

  private anew(n: Node, taker: Taker, parts: Parts, others: number, children: Change[]): void {
    const { prices } = n;
    const state = (e: number) =>
      `${this.scope.model.alike[e]}/${n.enginesLeft[e]}/${n.lumaLeft[e]}/${n.feedsLeft[e]}/${n.groups.flatMap((g, i) => (g.encoders.includes(e) ? [i] : [])).join()}`;
    const states = n.enginesLeft.map((_, e) => state(e));
    for (const spot of this.scope.spots[taker.index] ?? []) {
      const { lumaPerS } = spot.make;
      const seen = new Set<string>();
      for (const encoders of spot.encoders) {
        if (!this.bound.hasRoom(n, spot, encoders)) continue;
        // Encoders that can do the same and are in the same state: one of them stands for all.
        const here = encoders.map((e) => states[e]).join(" ");
        if (seen.has(here)) continue;
        seen.add(here);
        const added = taker.ladder ? null : this.bound.joining(n, spot, encoders, prices, parts.takers);
        const taken = encoders.reduce((sum, e) => sum + parts.lost(e, spot.make.engines, lumaPerS), 0);
        const worth = bestOfSpot(spot, taker.weight, prices.room, added);
        if (others - taken + worth < this.floor() - EPSILON) continue;
        // Encoders of one spot make the same bitrates, but not always with the same profile or channels.
        const make = this.scope.model.makes.of([spot.terms], encoders)[spot.which];
        if (!make) continue;
        const member = { taker, terms: spot.terms, ways: spot.ways, encoders };
        const group = taker.ladder ? groupOf(make, encoders, [member]) : this.settledGroup(n, make, encoders, [member]);
        if (group) children.push({ groups: [...n.groups, group], group, bound: others - taken + worth });
      }
    }
  }

  /** The least audio bitrate that somebody undecided, who takes this picture, wishes for. */
  private laterAudio(n: Node, picture: number): number {
    let least = Number.POSITIVE_INFINITY;
    for (let i = n.depth + 1; i < this.scope.order.length; i++)
      for (const t of (this.scope.order[i] as Taker).terms) if (t.picture.index === picture) least = Math.min(least, t.audio.wishedBps);
    return least;
  }

  /** The child, if its engines, luma and feeds fit and the lightest bitrates fit the uplinks; null: they do not. */
  childOf(n: Node, { groups, old, group, bound }: Change): Node | null {
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
    for (let u = 0; u < this.scope.limits.roomBps.length; u++) {
      let least = 0;
      for (const g of groups)
        for (const m of g.members) if (m.ways?.every((w) => w.routes.every((r) => r.includes(u)))) least += m.ways[0]?.tables[0]?.[0] ?? 0;
      if (least > (this.scope.limits.roomBps[u] as number)) return null;
    }
    return Object.assign(child, { enginesLeft: left.engines, lumaLeft: left.luma, feedsLeft: left.feeds });
  }
}
