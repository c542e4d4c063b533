import { arranged, canArrange } from "./arrange";
import type { Prices } from "./bound";
import type { Stand } from "./choices";
import { Makes } from "./makes";
import type { Model, Taker } from "./model";
import type { Narrowing } from "./narrow";
import { narrowed } from "./narrowed";
import { type Racks, racksOf } from "./packing";
import type { Limits } from "./scope";
import { better, type Found, Search, type SearchResult } from "./search";
import { type Pick, Settle } from "./settle";

/** Bounds of settings, times the subsets that each looks at, and branches, between which the two ways take turns. */
const TURN = { work: 40_000, least: 60, most: 400, branches: 8 } as const;

/**
 * The best of at least `atLeast` points: settings are gone through one by one, which is quick where the uplinks decide, and
 * searched by branch and bound, which is quick where the engines do; each in turn until one of them is done.
 */
export class Turns {
  best: Found | null = null;
  private readonly settle: Settle;
  private readonly racks: Racks;
  private readonly stands: readonly Stand[];

  constructor(
    private readonly model: Model,
    private readonly limits: Limits & { atLeast: number },
    private readonly narrowing: Narrowing,
    private readonly prices: Prices,
  ) {
    this.racks = racksOf({ model, limits });
    this.stands = narrowing.within(limits.atLeast);
    const { cellBps, enginesWorth } = narrowing;
    const { roomBps } = limits;
    this.settle = new Settle(
      { stands: this.stands, roomBps, cellBps, prices: prices.room, racks: this.racks, makes: model.makes, enginesWorth },
      () => this.floor,
      () => this.best && { points: this.best.allocation.points, engines: this.best.engines, loadBps: this.best.allocation.loadBps },
    );
  }

  /** Points that an answer must have to count. */
  get floor(): number {
    return Math.max(this.limits.atLeast, this.best?.allocation.points ?? 0);
  }

  /** Goes through settings for one turn; null: they are not all gone through. */
  settled(): SearchResult | null {
    const { model, limits, racks, prices } = this;
    const done = this.settle.run(
      (picks) =>
        this.hear(
          canArrange(model, picks)
            ? arranged(model, picks, racks, limits.roomBps)
            : new Search(pinned(model, picks), { ...limits, atLeast: this.floor }, atZero(prices)).run().best,
        ),
      Math.min(TURN.most, Math.max(TURN.least, TURN.work / this.settle.size)),
    );
    return done ? { best: this.best, bound: this.floor, proved: true, nodes: 0 } : null;
  }

  /** Branches too, so many times at the most. */
  run(mostNodes: number): SearchResult {
    const branching = new Search(narrowed(this.model, this.stands), this.limits, this.prices);
    for (;;) {
      branching.hearOf(this.floor);
      const { best, proved, nodes, bound } = branching.run(TURN.branches);
      this.hear(best);
      if (proved) return { best: this.best, bound: this.floor, proved, nodes };
      if (nodes >= mostNodes) return { best: this.best, bound: Math.min(this.narrowing.bound, bound), proved: false, nodes };
      const settled = this.settled();
      if (settled) return { ...settled, nodes };
    }
  }

  private hear(found: Found | null): void {
    if (found && better(found, this.best)) this.best = found;
  }
}

const atZero = ({ room, engine }: Prices): Prices => ({ room: room.map(() => 0), engine: engine.map(() => 0) });

/** The model with only what is picked. */
function pinned(model: Model, picks: ReadonlyMap<number, Pick>): Model {
  const takers = model.takers.map((t): Taker => {
    const pick = picks.get(t.index);
    if (pick === undefined) return t;
    if (pick === "out")
      return { ...t, given: { ...t.given, must: false }, relay: null, terms: [], encoders: [], protocols: [], routes: [] };
    const given = { ...t.given, must: true };
    if (pick === "passed") return { ...t, given, encoders: [], protocols: [], routes: [] };
    return { ...t, given, relay: null, terms: [{ ...pick.terms, minBps: pick.bps, topBps: pick.bps }] };
  });
  return { ...model, takers, makes: new Makes(model.problem, model.makes) };
}
