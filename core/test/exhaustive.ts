import type { FitProblem } from "@ukaza/contract/fit";
import type { Protocol } from "@ukaza/contract/settings";
import type { Make } from "../fit/plan/makes";
import { compile, type Taker } from "../fit/plan/model";
import type { Terms } from "../fit/plan/terms";

interface Member {
  taker: Taker;
  terms: Terms;
  encoders: readonly number[];
  protocol: Protocol | null;
  route: readonly number[];
}

interface Group {
  encoders: readonly number[];
  make: Make;
  members: Member[];
}

export interface Reference {
  points: number;
  engines: number;
  loadBps: number;
}

/**
 * The best of a small problem by trying everything: every way to share engines, every picture, protocol, uplink and bitrate.
 * What engines can be told is the product's own; how the best is found is not.
 */
export function exhaustive(problem: FitProblem): Reference | null {
  const model = compile(problem);
  const order = [...model.takers].sort((a, b) => Number(b.given.relay) - Number(a.given.relay));
  let best: Reference | null = null;

  const better = (r: Reference) =>
    !best ||
    r.points > best.points ||
    (r.points === best.points && (r.engines < best.engines || (r.engines === best.engines && r.loadBps < best.loadBps - 0.5)));

  const fitsEncoders = (groups: readonly Group[]) =>
    problem.encoders.every((encoder, e) => {
      let [engines, luma, feeds] = [0, 0, 0];
      for (const g of groups) {
        if (!g.encoders.includes(e)) continue;
        engines += g.make.engines;
        luma += g.make.lumaPerS;
        for (const m of g.members) {
          if (m.protocol === null || !m.encoders.includes(e)) continue;
          feeds += (m.encoders.length === 1 ? m.route.length : 1) * g.make.engines;
        }
      }
      return engines <= encoder.engines && luma <= encoder.maxLumaPerS && feeds <= encoder.maxFeeds;
    });

  function bitrates(groups: readonly Group[], at: number, points: number, used: readonly number[]): void {
    const group = groups[at];
    if (!group) {
      const result = {
        points,
        engines: groups.reduce((sum, g) => sum + g.make.engines * g.encoders.length, 0),
        loadBps: used.reduce((a, b) => a + b, 0),
      };
      if (better(result)) best = result;
      return;
    }
    const weight = group.members.reduce((sum, m) => sum + m.taker.weight, 0);
    for (let i = 0; i < group.make.bps.length; i++) {
      const next = [...used];
      for (const m of group.members)
        if (m.protocol !== null) for (const u of m.route) next[u] = (next[u] as number) + (group.make.loads(m.protocol, u)[i] as number);
      if (next.every((load, u) => load <= (problem.uplinks[u]?.usableBps ?? 0)))
        bitrates(groups, at + 1, points + weight * (group.make.q[i] as number), next);
    }
  }

  function destinations(at: number, groups: readonly Group[]): void {
    const taker = order[at];
    if (!taker) {
      const used = problem.uplinks.map(() => 0);
      bitrates(groups, 0, 0, used);
      return;
    }
    if (!taker.given.must) destinations(at + 1, groups);
    const go = (next: readonly Group[]) => {
      if (fitsEncoders(next)) destinations(at + 1, next);
    };
    const join = (old: readonly Group[], member: Member, encoders: readonly number[]) => {
      const members = [...old.flatMap((g) => g.members), member];
      const [make] = model.makes.of(
        members.map((m) => m.terms).sort((a, b) => a.id - b.id),
        encoders,
      );
      if (make) go([...groups.filter((g) => !old.includes(g)), { encoders, make, members }]);
    };
    for (const terms of taker.terms) {
      for (const g of groups)
        if (
          g.make.engines === 1 &&
          g.make.picture === terms.picture &&
          g.members.some((m) => m.taker.index === taker.relay && m.protocol !== null)
        )
          join([g], { taker, terms, encoders: [], protocol: null, route: [] }, g.encoders);
      taker.encoders.forEach((encoders, way) => {
        for (const protocol of taker.protocols[way] ?? [])
          for (const route of taker.routes) {
            const member = { taker, terms, encoders, protocol, route };
            for (const make of model.makes.of([terms], encoders)) go([...groups, { encoders, make, members: [member] }]);
            if (taker.ladder) continue;
            const same = groups.filter((g) => g.make.engines === 1 && g.make.picture === terms.picture);
            const joined = (old: Group[]) =>
              join(
                old,
                member,
                [...new Set([...old.flatMap((g) => g.encoders), ...encoders])].sort((a, b) => a - b),
              );
            for (const g of same) if (encoders.some((e) => g.encoders.includes(e))) joined([g]);
            const [main, backup] = encoders;
            for (const a of same)
              for (const b of same)
                if (
                  backup !== undefined &&
                  a.encoders.includes(main as number) &&
                  b.encoders.includes(backup) &&
                  !a.encoders.some((e) => b.encoders.includes(e))
                )
                  joined([a, b]);
          }
      });
    }
  }
  destinations(0, []);
  return best;
}
