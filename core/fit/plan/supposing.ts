import type { Prices } from "./bound";
import { Heap } from "./heap";
import type { Model } from "./model";
import type { Narrowing } from "./narrow";
import type { Limits } from "./scope";
import { better, type Found, type SearchResult } from "./search";
import { EPSILON } from "./slack";
import { Turns } from "./turns";

/** Shares of the bound that the best answer is supposed to fall short of it at most, one after the other. */
const SHORTFALLS = [0.00002, 0.0002, 0.0008, 0.003, 0.01, 1] as const;
/** The same where each supposition is dear to look into. */
const TANGLED_SHORTFALLS = [0.003, 0.03, 1] as const;
/** Share by which a bound must have come down to be taken anew. */
const SHARPER = 1e-5;
/** Share of the picks that must be left for them to be worth looking at anew. */
const SMALLER = 0.3;
/** Branches of a part before it is taken apart. */
const FEW_BRANCHES = 24;

/** Looks for the best answer under a bound, close under it first. */
export class Supposing {
  nodes = 0;
  /** Relays and backups tie feeds together: there the bounds by sets say little, and branching does it. */
  private readonly tangled: boolean;

  constructor(
    private readonly model: Model,
    private readonly limits: Limits,
    private readonly prices: Prices,
  ) {
    this.tangled = model.takers.some((t) => t.relay !== null || t.given.backup);
  }

  /** The best of at least `floor` points in several parts. */
  under(parts: readonly Narrowing[], floor: number): SearchResult {
    const bound = Math.max(...parts.map((p) => p.bound));
    for (const shortfall of this.tangled ? TANGLED_SHORTFALLS : SHORTFALLS) {
      const least = Math.max(floor, bound * (1 - shortfall));
      if (least > bound + EPSILON) break;
      const [only] = parts;
      const sharp = only && parts.length === 1 ? only.sharpened(least) : null;
      // A bound that has come down so far is a closer one to suppose things under.
      const sharper = sharp !== null && sharp.bound >= least - EPSILON && sharp.bound < bound * (1 - SHARPER);
      const result = sharper ? this.under([sharp], least) : this.among(sharp ? [sharp] : parts, least, sharp);
      if (result.best || !result.proved || least === floor) return result;
    }
    return { best: null, bound: floor, proved: true, nodes: this.nodes };
  }

  /**
   * The best of at least `floor` points: the part that promises most is made narrower or taken apart first. `known`: the
   * part that is as narrow already as it gets by that.
   */
  private among(parts: readonly Narrowing[], floor: number, known: Narrowing | null): SearchResult {
    let best: Found | null = null;
    const least = () => Math.max(floor, best?.allocation.points ?? 0);
    const queue = new Heap<Narrowing>();
    const put = (part: Narrowing) => {
      if (part.bound >= least() - EPSILON) queue.push(part.bound, part);
    };
    const hear = (found: Found | null) => {
      if (found && better(found, best)) best = found;
    };
    for (const part of parts) put(part);
    for (let part = queue.pop(); part && part.bound >= least() - EPSILON; part = queue.pop()) {
      const sharp = part === known ? part : part.sharpened(least());
      if (sharp.bound < part.bound * (1 - SHARPER)) {
        put(sharp);
        continue;
      }
      const { mostNodes = Number.POSITIVE_INFINITY } = this.limits;
      const turns = new Turns(this.model, { ...this.limits, atLeast: least() }, sharp, this.prices);
      const settled = turns.settled();
      hear(turns.best);
      if (settled) continue;
      const agreed = this.tangled ? null : sharp.agreed(least());
      if (agreed && (agreed.bound < Math.min(part.bound, sharp.bound) * (1 - SHARPER) || agreed.size < SMALLER * sharp.size)) {
        put(agreed);
        continue;
      }
      const apart = agreed?.split(least()) ?? null;
      const result = turns.run(apart ? FEW_BRANCHES : mostNodes - this.nodes);
      this.nodes += result.nodes;
      hear(result.best);
      if (result.proved) continue;
      if (!apart) return { ...result, best, bound: Math.max(result.bound, queue.top), nodes: this.nodes };
      for (const one of apart) put(one);
    }
    return { best, bound: least(), proved: true, nodes: this.nodes };
  }
}
