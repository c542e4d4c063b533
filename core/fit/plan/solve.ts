import type { FitProblem } from "@ukaza/contract/fit";
import type { PlanDestination, PlanLimit, WholeAnswer, WholePlan } from "@ukaza/contract/fitPlan";
import type { Settings } from "@ukaza/contract/settings";
import { pictureScore } from "../score";
import { conflictOf } from "./conflicts";
import type { Group, Sending } from "./groups";
import { POINT } from "./makes";
import { compile, type Model } from "./model";
import { search } from "./optimum";
import type { Limits } from "./scope";
import type { Found } from "./search";

/** A search is stopped after so many branches; its certificate then says how far off the answer may be. */
export const MOST_NODES = 1_000;

/** The limits of a problem as it is given. */
export const limitsOf = (problem: FitProblem): Limits => ({
  roomBps: problem.uplinks.map((u) => u.usableBps),
  engines: problem.encoders.map((e) => e.engines),
  mostNodes: MOST_NODES,
});

/**
 * The best use of engines and uplinks for all destinations (models, section 5): every `must` served, then the greatest
 * Σ weight · Q, then the fewest engines, then the least load. With a certificate that there is none better, or the demands
 * that cannot hold together.
 */
export function solve(problem: FitProblem): WholeAnswer {
  const model = compile(problem);
  const limits = limitsOf(problem);
  const result = search(model, limits);
  if (!result.best) return { kind: "none", conflict: result.proved ? conflictOf(problem) : [], proved: result.proved };
  const plan = planOf(model, result.best);
  return {
    kind: "fit",
    plan,
    certificate: { points: plan.points, boundPoints: result.bound / POINT, proved: result.proved, nodes: result.nodes },
  };
}

/** A search's answer in the terms of the problem. */
export function planOf(model: Model, found: Found): WholePlan {
  const { problem } = model;
  const loadBps = problem.uplinks.map(() => 0);
  const served = new Map<number, PlanDestination>();
  found.groups.forEach((group, g) => {
    const at = found.allocation.at[g] as number;
    for (const sending of found.sendings[g] ?? []) served.set(sending.member.taker.index, destinationOf(model, found, group, sending, at));
  });
  for (const d of served.values())
    for (const feed of d.feeds) {
      const u = problem.uplinks.findIndex((uplink) => uplink.id === feed.uplinkId);
      loadBps[u] = (loadBps[u] as number) + feed.loadBps;
    }
  return {
    points: found.allocation.points / POINT,
    destinations: problem.destinations.map(
      (d, i) =>
        served.get(i) ?? {
          destinationId: d.id,
          settings: null,
          score: null,
          feeds: [],
          through: null,
          rungs: [],
          bound: "others" as const,
        },
    ),
    engines: found.groups.flatMap((group, g) => {
      const at = found.allocation.at[g] as number;
      const { protocol } = (found.sendings[g] ?? []).find((s) => s.protocol !== null) ?? {};
      const settings = { ...group.make.base, videoBps: group.make.bps[at] as number, protocol: protocol ?? group.make.base.protocol };
      const destinationIds = group.members.map((m) => m.taker.given.id);
      return group.encoders.map((e) => ({ encoderId: problem.encoders[e]?.id ?? "", settings, destinationIds, count: group.make.engines }));
    }),
    uplinks: problem.uplinks.map((u, i) => ({ uplinkId: u.id, loadBps: Math.round(loadBps[i] as number), usableBps: u.usableBps })),
  };
}

function destinationOf(model: Model, found: Found, group: Group, { member, protocol, route }: Sending, at: number): PlanDestination {
  const { problem } = model;
  const { taker, encoders } = member;
  const relay = taker.relay === null || protocol !== null ? null : (problem.destinations[taker.relay] ?? null);
  const own = protocol ?? protocolOfRelay(found, taker.relay) ?? group.make.base.protocol;
  const settings: Settings = { ...group.make.base, videoBps: group.make.bps[at] as number, protocol: own };
  return {
    destinationId: taker.given.id,
    settings,
    score: pictureScore(settings, problem.source, problem.content),
    feeds: route.map((u, n) => ({
      role: n === 0 ? ("main" as const) : ("backup" as const),
      encoderId: problem.encoders[(n === 0 ? encoders[0] : (encoders[1] ?? encoders[0])) as number]?.id ?? "",
      uplinkId: problem.uplinks[u]?.id ?? "",
      loadBps: protocol === null ? 0 : Math.ceil(group.make.loads(protocol, u)[at] as number),
    })),
    through: relay?.id ?? null,
    rungs: (group.make.rungs[at] ?? []).map((rung) => ({ ...rung, protocol: own })),
    bound: boundOf(model, found, group, member.terms.topBps, route, at),
  };
}

function protocolOfRelay(found: Found, relay: number | null) {
  for (const sendings of found.sendings) for (const s of sendings) if (s.member.taker.index === relay) return s.protocol;
  return null;
}

/** What keeps a group's bitrate from rising one step more, as one of its members sees it. */
function boundOf(model: Model, found: Found, group: Group, ownTopBps: number, route: readonly number[], at: number): PlanLimit {
  const { make } = group;
  const { problem } = model;
  const now = make.bps[at] as number;
  if (at < make.bps.length - 1) {
    const over = problem.uplinks.map(() => false);
    const used = problem.uplinks.map(() => 0);
    found.groups.forEach((g, i) => {
      for (const s of found.sendings[i] ?? [])
        if (s.protocol !== null)
          for (const u of s.route) {
            const index = (found.allocation.at[i] as number) + (g === group ? 1 : 0);
            used[u] = (used[u] as number) + (g.make.loads(s.protocol, u)[index] as number);
          }
    });
    used.forEach((load, u) => {
      over[u] = load > (problem.uplinks[u]?.usableBps ?? 0);
    });
    if (over[route[0] as number]) return "uplink";
    if (route[1] !== undefined && over[route[1]]) return "backup-uplink";
    return over.some(Boolean) ? "shared" : "uplink";
  }
  if (make.endedBy === "level") return "level";
  const { source } = problem;
  const whole = make.base.width === source.width && make.base.height === source.height;
  const larger = group.members.some((m) => m.taker.terms.some((t) => t.picture.width * t.picture.height > source.width * source.height));
  if (now < ownTopBps && group.members.length > 1) return "shared";
  return make.endedBy === "encoder" ? "encoder" : whole && larger ? "source" : "sheet";
}
