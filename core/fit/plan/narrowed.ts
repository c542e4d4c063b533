import type { Stand } from "./choices";
import type { Group } from "./groups";
import { Makes } from "./makes";
import type { Model, Taker } from "./model";
import type { Found } from "./search";
import type { Terms } from "./terms";

/** The model with only what stands leave to each destination. */
export function narrowed(model: Model, stands: readonly Stand[]): Model {
  const byTaker = new Map(stands.map((s) => [s.taker.index, s]));
  const takers = model.takers.map((t): Taker => {
    const stand = byTaker.get(t.index);
    if (!stand) return t;
    const served = stand.out === Number.NEGATIVE_INFINITY ? { ...t, given: { ...t.given, must: true }, relay: null } : t;
    // Behind a relay any of its pictures may do.
    if (served.relay !== null) return t;
    const ranges = new Map<number, { from: number; to: number }>();
    const over = new Set<number>();
    for (const { terms, bps, loads } of stand.choices) {
      const { from, to } = ranges.get(terms.id) ?? { from: bps, to: bps };
      ranges.set(terms.id, { from: Math.min(from, bps), to: Math.max(to, bps) });
      for (const list of loads)
        list.forEach((load, u) => {
          if (Number.isFinite(load)) over.add(u);
        });
    }
    const terms = t.terms.flatMap((own): Terms[] => {
      const range = ranges.get(own.id);
      return range ? [{ ...own, minBps: Math.max(own.minBps, range.from), topBps: Math.min(own.topBps, range.to) }] : [];
    });
    return { ...served, terms, routes: t.routes.filter((route) => route.every((u) => over.has(u))) };
  });
  return { ...model, takers, makes: new Makes(model.problem, model.makes) };
}

/** An answer of a narrowed model in the terms of the whole one. */
export function widened(found: Found, model: Model): Found {
  const at: number[] = [];
  const groups = found.groups.map((g, i): Group => {
    const members = g.members.map((m) => {
      const taker = model.takers[m.taker.index] ?? m.taker;
      return { ...m, taker, terms: taker.terms.find((t) => t.id === m.terms.id) ?? m.terms };
    });
    const bps = g.make.bps[found.allocation.at[i] as number] as number;
    const terms = members.map((m) => m.terms).sort((a, b) => a.id - b.id);
    const make = model.makes.of(terms, g.encoders).find((m) => m.engines === g.make.engines && m.bps.includes(bps)) ?? g.make;
    at.push(make.bps.indexOf(bps));
    return { ...g, make, members };
  });
  const sendings = found.sendings.map((list, i) => list.map((s, n) => ({ ...s, member: groups[i]?.members[n] ?? s.member })));
  return { ...found, groups, sendings, allocation: { ...found.allocation, at } };
}
