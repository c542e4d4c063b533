import type { Encoder } from "@ukaza/contract/encoder";
import type { Event } from "@ukaza/contract/event";
import type { EventDemands } from "@ukaza/contract/eventPlan";
import type { FitProblem } from "@ukaza/contract/fit";
import type { WholePlan } from "@ukaza/contract/fitPlan";
import { frozenFields } from "../rules/frozen";

/** What an event asks of the fit. */
export const demandsOf = ({ encoderIds, allowMaximum, recordBps, destinations }: Event): EventDemands => ({
  encoderIds,
  allowMaximum,
  recordBps,
  destinations: destinations.map(
    ({ platformId: _p, title: _t, description: _d, access: _a, latencyMode: _l, addedDelayS: _s, ...demands }) => demands,
  ),
});

/** A problem with other demands made of it. `kit`: where encoders are found that it does not have yet. */
export function withAsked(problem: FitProblem, asked: EventDemands, kit: readonly Encoder[]): FitProblem {
  const known = [...problem.encoders, ...kit];
  return {
    ...problem,
    allowMaximum: asked.allowMaximum,
    encoders: asked.encoderIds.flatMap((id) => known.find((e) => e.id === id) ?? []),
    destinations: asked.destinations.flatMap((own) => {
      const given = problem.destinations.find((d) => d.id === own.id);
      if (!given) return [];
      // An uplink that is not measured, or is gone, carries nothing anyway.
      const notOver = own.notOver.filter((id) => problem.uplinks.some((u) => u.id === id));
      return [{ ...own, notOver, sheet: given.sheet }];
    }),
  };
}

/** What may still move once a plan is public: those it serves, each with what its platform freezes kept as the plan has it. */
export function oncePublic(problem: FitProblem, plan: WholePlan): FitProblem {
  const settingsOf = (id: string) => plan.destinations.find((d) => d.destinationId === id)?.settings;
  const destinations = problem.destinations.flatMap((d) => {
    const settings = settingsOf(d.id);
    if (!settings) return [];
    return [{ ...d, fixed: Object.fromEntries(frozenFields(d.sheet).map((field) => [field, settings[field]])) }];
  });
  // A relay that serves nobody any more is no way for anybody.
  const served = new Set(destinations.map((d) => d.id));
  return {
    ...problem,
    destinations: destinations.map((d) => (d.through && !served.has(d.through.destinationId) ? { ...d, through: null } : d)),
  };
}
