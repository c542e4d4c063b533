import type { PlannedDestination } from "@ukaza/contract/eventPlan";
import type { FitProblem, FitUplink } from "@ukaza/contract/fit";
import type { PlanDestination, WholePlan } from "@ukaza/contract/fitPlan";
import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import type { Settings } from "@ukaza/contract/settings";
import { feedLoad } from "../media/load";
import { pictureScore } from "./score";

/** What must be the same for two destinations to be served by one engine: all but the way it is sent. */
const engineKey = (s: Settings, rungs: readonly Settings[]): string =>
  JSON.stringify([s, ...rungs].map(({ protocol: _protocol, ...encode }) => Object.entries(encode).sort()));

/** Load of all renditions of a feed on an uplink, bit/s at the IP layer. */
const loadOf = (renditions: readonly Settings[], uplink: FitUplink | undefined): number =>
  Math.ceil(renditions.reduce((sum, s) => sum + feedLoad(s, uplink?.lossRatio ?? 0).loadBps, 0));

/** The least that says how a plan serves its destinations. */
export const plannedOf = (plan: WholePlan): PlannedDestination[] =>
  plan.destinations.map(({ score: _score, feeds, ...d }) => ({
    ...d,
    feeds: feeds.map(({ role, encoderId, uplinkId }) => ({ role, encoderId, uplinkId })),
  }));

/** Settings as the platform's own rules meet them: what a relay passes on comes in the relay's way, which is no matter of the encoder's. */
export const asReceived = (settings: Settings, sheet: RuleSheet, through: string | null): Settings =>
  through === null ? settings : { ...settings, protocol: sheet.protocols[0]?.protocol ?? settings.protocol };

/** A whole plan from what it serves: scores, loads, engines and points are worked out from settings and ways alone. */
export function planFrom(problem: FitProblem, planned: readonly PlannedDestination[]): WholePlan {
  const uplinkOf = (id: string) => problem.uplinks.find((u) => u.id === id);
  const destinations = problem.destinations.map((given): PlanDestination => {
    const d = planned.find((p) => p.destinationId === given.id);
    if (!d?.settings)
      return { destinationId: given.id, settings: null, score: null, feeds: [], through: null, rungs: [], bound: d?.bound ?? "others" };
    const renditions = [d.settings, ...d.rungs];
    return {
      ...d,
      score: pictureScore(d.settings, problem.source, problem.content),
      feeds: d.feeds.map((f) => ({ ...f, loadBps: loadOf(renditions, uplinkOf(f.uplinkId)) })),
    };
  });
  const engines = new Map<string, WholePlan["engines"][number]>();
  for (const d of destinations) {
    if (!d.settings) continue;
    for (const encoderId of new Set(d.feeds.map((f) => f.encoderId))) {
      const key = `${encoderId} ${engineKey(d.settings, d.rungs)}`;
      const engine = engines.get(key) ?? { encoderId, settings: d.settings, destinationIds: [], count: 1 + d.rungs.length };
      engine.destinationIds.push(d.destinationId);
      engines.set(key, engine);
    }
  }
  const feeds = destinations.flatMap((d) => d.feeds);
  return {
    points: destinations.reduce((sum, d, i) => {
      const given = problem.destinations[i];
      return sum + (given && !given.relay && d.score ? given.weight * d.score.q : 0);
    }, 0),
    destinations,
    engines: [...engines.values()],
    uplinks: problem.uplinks.map((u) => ({
      uplinkId: u.id,
      usableBps: u.usableBps,
      loadBps: feeds.reduce((sum, f) => sum + (f.uplinkId === u.id ? f.loadBps : 0), 0),
    })),
  };
}
