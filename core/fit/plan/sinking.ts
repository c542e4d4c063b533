import type { Prices } from "./bound";
import type { Model } from "./model";
import type { Narrowing } from "./narrow";
import { widened } from "./narrowed";
import { search } from "./optimum";
import type { Limits } from "./scope";
import { type Found, Search, type SearchResult } from "./search";
import { Supposing } from "./supposing";

/** Shares of the points that may be lost on the way down before what was left out is looked at anew: of all choices, of those near. */
const FAR = 0.2;
const NEAR = 0.02;
/** What the share of those near grows by where there was nothing among them. */
const WIDER = 4;

/** Choices that may belong to answers of at least `floor` points, in so much room or less. */
interface Stretch {
  narrowing: Narrowing;
  floor: number;
}

/**
 * The best answers while the room on uplinks sinks. The last answer with one bitrate lowered says what is reached at least;
 * and what cannot belong to an answer of nearly as many points in more room cannot in less, so for some way down only
 * what was left is looked at: far down at much of it, for the next few answers at little.
 */
export class Sinking {
  private far: (Stretch & { prices: Prices }) | null = null;
  private near: Stretch | null = null;
  private last: Found | null = null;

  constructor(
    private readonly model: Model,
    private readonly limits: Limits,
  ) {}

  /** The best answer in so much room, which may be nowhere more than it was asked for before. */
  at(roomBps: readonly number[]): SearchResult {
    const limits = { ...this.limits, roomBps };
    const reached = this.last && lowered(this.last, roomBps);
    const points = reached ?? this.last?.allocation.points ?? null;
    const result = this.among(this.near, limits, reached) ?? this.anewNear(limits, points, reached) ?? this.anew(limits, points, reached);
    this.last = result.best;
    return result;
  }

  /** The best in a stretch, of which `reached` points are known to be reached; null: it may lie outside. */
  private among(stretch: Stretch | null, limits: Limits, reached: number | null): SearchResult | null {
    if (!stretch || !this.far || (reached !== null && reached < stretch.floor)) return null;
    const here = stretch.narrowing.inRoom(limits.roomBps, stretch.floor);
    const result = new Supposing(this.model, limits, this.far.prices).under([here], reached ?? stretch.floor);
    return result.best && { ...result, best: widened(result.best, this.model) };
  }

  /** The same in a new stretch of what is near: less room seldom costs more than a little of what was reached in more. */
  private anewNear(limits: Limits, points: number | null, reached: number | null): SearchResult | null {
    const { far } = this;
    if (!far || points === null) return null;
    for (let share = NEAR; ; share *= WIDER) {
      const floor = Math.max(far.floor, points * (1 - share));
      if (floor > points) return null;
      this.near = { narrowing: far.narrowing.inRoom(limits.roomBps, floor).sharpened(floor), floor };
      const result = this.among(this.near, limits, reached);
      if (result || floor === far.floor) return result;
    }
  }

  /** Everything is looked at; only a new stretch of it, where that is enough. */
  private anew(limits: Limits, points: number | null, reached: number | null): SearchResult {
    const known = reached === null ? limits : { ...limits, atLeast: reached };
    const whole = new Search(this.model, known, this.far?.prices);
    this.setFar(whole, points);
    const found = this.anewNear(limits, points, reached);
    if (found) return found;
    const result = search(this.model, known, whole);
    this.setFar(whole, result.proved ? (result.best?.allocation.points ?? null) : null);
    return result;
  }

  private setFar(whole: Search, points: number | null): void {
    const floor = (points ?? 0) * (1 - FAR);
    const narrowing = points === null ? null : whole.narrowing(floor);
    this.far = narrowing && { narrowing, floor, prices: whole.prices };
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
