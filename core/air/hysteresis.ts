import type { Health } from "@ukaza/contract/air";
import { healthRules as rules } from "./healthRules";

const order: Record<Health, number> = { steady: 0, strained: 1, broken: 2, silent: 3 };

/** Below 0: `a` is better than `b`. */
export function compareHealth(a: Health, b: Health): number {
  return order[a] - order[b];
}

/** The held health of a feed and how many samples in a row have spoken against it. */
export interface Held {
  health: Health;
  /** ISO 8601 instant at which this health was entered. */
  since: string;
  /** Samples in a row worse than held, with the least bad of them; the same for better ones. */
  worse: { count: number; least: Health } | null;
  better: { count: number; most: Health } | null;
}

export function heldFrom(health: Health, since: string): Held {
  return { health, since, worse: null, better: null };
}

/**
 * Takes one more raw assessment. Worse is entered after two samples in a row, to the least bad of the two;
 * better only after ten, to the worst of the ten. A signal on a boundary therefore holds the worse state.
 */
export function hold(held: Held, raw: Health, at: string): Held {
  const gap = compareHealth(raw, held.health);
  if (gap === 0) return { ...held, worse: null, better: null };
  if (gap > 0) {
    const least = held.worse && compareHealth(held.worse.least, raw) < 0 ? held.worse.least : raw;
    const count = (held.worse?.count ?? 0) + 1;
    if (count >= rules.worseAfterSamples) return heldFrom(least, at);
    return { ...held, worse: { count, least }, better: null };
  }
  const most = held.better && compareHealth(held.better.most, raw) > 0 ? held.better.most : raw;
  const count = (held.better?.count ?? 0) + 1;
  if (count >= rules.betterAfterSamples) return heldFrom(most, at);
  return { ...held, better: { count, most }, worse: null };
}
