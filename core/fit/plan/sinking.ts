import type { Prices } from "./bound";
import type { Model } from "./model";
import type { Narrowing } from "./narrow";
import { widened } from "./narrowed";
import { anyAnswer, search } from "./optimum";
import type { Limits } from "./scope";
import { type Found, Search, type SearchResult } from "./search";
import { Supposing } from "./supposing";

/** Share of the points that may be lost on the way down before everything is looked at anew. */
const STRETCH = 0.04;

/**
 * The best answers while the room on uplinks sinks. The last answer with one bitrate lowered says what is reached at least;
 * and what cannot belong to an answer of nearly as many points in more room cannot in less, so for some way down only
 * what was left is looked at.
 */
export class Sinking {
  private stretch: { narrowing: Narrowing; floor: number; prices: Prices } | null = null;
  private last: Found | null = null;

  constructor(
    private readonly model: Model,
    private readonly limits: Limits,
  ) {}

  /** The best answer in so much room, which may be nowhere more than it was asked for before. */
  at(roomBps: readonly number[]): SearchResult {
    const limits = { ...this.limits, roomBps };
    const reached = this.last && lowered(this.last, roomBps);
    const result = this.along(limits, reached) ?? this.afresh(limits, reached);
    this.last = result.best;
    return result;
  }

  private along(limits: Limits, reached: number | null): SearchResult | null {
    if (!this.stretch || reached === null || reached < this.stretch.floor) return null;
    const { narrowing, floor, prices } = this.stretch;
    const here = narrowing.inRoom(limits.roomBps, floor);
    const result = new Supposing(this.model, limits, prices).reaching(here, reached);
    return result.best && { ...result, best: widened(result.best, this.model) };
  }

  private afresh(limits: Limits, reached: number | null): SearchResult {
    const before = this.stretch?.prices;
    this.stretch = null;
    const first = reached === null ? anyAnswer(this.model, limits) : null;
    if (first && !first.best && first.proved) return first;
    const atLeast = reached ?? first?.best?.allocation.points;
    if (atLeast === undefined) return search(this.model, limits);
    const known = { ...limits, atLeast };
    const whole = new Search(this.model, known, before);
    const floor = atLeast * (1 - STRETCH);
    // Only what is reached by one bitrate lowered is near the best.
    const narrowing = reached === null ? null : whole.narrowing(floor)?.sharpened(floor);
    const near = narrowing && new Supposing(this.model, limits, whole.prices).reaching(narrowing, atLeast);
    if (narrowing && near?.best) {
      this.stretch = { narrowing, floor, prices: whole.prices };
      return { ...near, best: widened(near.best, this.model) };
    }
    const result = search(this.model, known, whole);
    if (result.best && result.proved) this.stretch = this.under(whole, result.best.allocation.points);
    return result;
  }

  private under(whole: Search, points: number) {
    const floor = points * (1 - STRETCH);
    const narrowing = whole.narrowing(floor)?.sharpened(floor);
    return narrowing ? { narrowing, floor, prices: whole.prices } : null;
  }
}

/** Points that an answer still comes to when one of its bitrates is lowered until all fits; null: one is not enough. */
function lowered({ groups, sendings, allocation }: Found, roomBps: readonly number[]): number | null {
  const loadsOf = (g: number, at: number) => {
    const loads = roomBps.map(() => 0);
    for (const { protocol, route } of sendings[g] ?? [])
      if (protocol !== null) for (const u of route) loads[u] = (loads[u] as number) + (groups[g]?.make.loads(protocol, u)[at] as number);
    return loads;
  };
  const now = groups.map((_, g) => loadsOf(g, allocation.at[g] as number));
  const over = roomBps.map((room, u) => now.reduce((sum, loads) => sum + (loads[u] as number), 0) - room);
  let least = Number.POSITIVE_INFINITY;
  groups.forEach(({ make, weight }, g) => {
    const from = allocation.at[g] as number;
    for (let at = from; at >= 0; at--) {
      const lost = weight * ((make.q[from] as number) - (make.q[at] as number));
      if (lost >= least) break;
      const loads = loadsOf(g, at);
      if (over.every((more, u) => (now[g]?.[u] as number) - (loads[u] as number) >= more)) least = lost;
    }
  });
  return Number.isFinite(least) ? allocation.points - least : null;
}
