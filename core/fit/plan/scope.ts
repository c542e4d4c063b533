import type { Group } from "./groups";
import type { Model, Taker } from "./model";
import { feedsOfSpot, type Spot, spotsOf, topOf } from "./spots";

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

export const NOT_SERVED = -1;

/** A model within limits: who is decided on in which order, and by which spots. Spots grow fewer as the search learns. */
export class Scope {
  readonly order: readonly Taker[];
  readonly spots: Spot[][];

  constructor(
    readonly model: Model,
    readonly limits: Limits,
  ) {
    this.spots = model.takers.map((t) =>
      limits.without?.has(t.index) ? [] : spotsOf(model, t, limits.roomBps).flatMap((spot) => this.possible(t, spot)),
    );
    this.order = this.inOrder();
  }

  /** A spot from those encoders that could run it if nothing else were run. */
  private possible(taker: Taker, spot: Spot): Spot[] {
    if (!this.allowed(taker, spot.terms.picture.index)) return [];
    const { encoders: kit } = this.model.problem;
    const { engines, lumaPerS } = spot.make;
    const encoders = spot.encoders.filter((at) =>
      at.every((e) => {
        const own = kit[e];
        return (
          own &&
          (this.limits.engines[e] as number) >= engines &&
          own.maxLumaPerS >= lumaPerS &&
          own.maxFeeds >= feedsOfSpot(spot, at.length)
        );
      }),
    );
    return encoders.length > 0 ? [{ ...spot, encoders }] : [];
  }

  allowed(taker: Taker, kind: number): boolean {
    const { not, without } = this.limits;
    return !without?.has(taker.index) && !(not && not.taker === taker.index && not.kind === kind);
  }

  mayGoWithout(taker: Taker): boolean {
    return !taker.given.must && this.allowed(taker, NOT_SERVED);
  }

  /** Relays first, since others hang on them, then ladders; then those that count most. */
  private inOrder(): Taker[] {
    const most = (t: Taker) => Math.max(0, ...(this.spots[t.index] ?? []).map((s) => t.weight * topOf(s)));
    const rank = (t: Taker) => (t.given.relay ? 0 : t.ladder ? 1 : 2);
    return this.model.takers
      .filter((t) => !this.limits.without?.has(t.index))
      .sort((a, b) => rank(a) - rank(b) || most(b) - most(a) || a.index - b.index);
  }

  /** The group that a destination's relay is sent, if any. */
  relayed(groups: readonly Group[], taker: Taker): Group | undefined {
    return groups.find((g) => g.make.engines === 1 && g.members.some((m) => m.taker.index === taker.relay && m.ways !== null));
  }

  /** The most that a destination can add behind its relay: its own best picture, for nothing. */
  mostPassed(n: { depth: number; groups: readonly Group[] }, taker: Taker): number {
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
  }
}
