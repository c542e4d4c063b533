import type { EventDemands, EventPlan } from "@ukaza/contract/eventPlan";
import type { CheckInput, Finding } from "@ukaza/contract/findings";
import type { FitProblem } from "@ukaza/contract/fit";
import type { FitNow } from "@ukaza/contract/fitChoice";
import type { WholePlan } from "@ukaza/contract/fitPlan";
import type { Settings } from "@ukaza/contract/settings";
import { asReceived, planFrom, plannedOf } from "@ukaza/core/fit/planFrom";
import { checkSettings } from "@ukaza/core/rules/check";

/** Whether a kept plan was made of the same demands. */
export const sameDemands = (a: EventDemands, b: EventDemands): boolean => JSON.stringify(sorted(a)) === JSON.stringify(sorted(b));

/** Fields in one order, whoever wrote them. */
function sorted(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sorted);
  if (typeof value !== "object" || value === null) return value;
  return Object.fromEntries(
    Object.entries(value)
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([key, v]) => [key, sorted(v)]),
  );
}

/** What the next plan is called if nobody says otherwise. */
export const nextName = (now: FitNow): string => `Plan ${now.plans.length + 1}`;

/** A kept plan on the lines as they are now. */
export const asOfNow = (problem: FitProblem, { plan }: EventPlan): WholePlan => planFrom(problem, plannedOf(plan));

/** Whether two plans serve everybody alike. */
export const samePlan = (a: WholePlan, b: WholePlan): boolean => {
  const what = (plan: WholePlan) =>
    plannedOf(plan)
      .map(({ bound: _bound, ...d }) => d)
      .sort((x, y) => (x.destinationId < y.destinationId ? -1 : 1));
  return JSON.stringify(sorted(what(a))) === JSON.stringify(sorted(what(b)));
};

/** What the settings of one destination are held against. */
export function checkOf(problem: FitProblem, destinationId: string, plan: WholePlan, settings: Settings): CheckInput | null {
  const given = problem.destinations.find((d) => d.id === destinationId);
  const served = plan.destinations.find((d) => d.destinationId === destinationId);
  const main = served?.feeds[0];
  const encoder = problem.encoders.find((e) => e.id === main?.encoderId);
  const uplink = problem.uplinks.find((u) => u.id === main?.uplinkId);
  if (!given) return null;
  return {
    settings: asReceived(settings, given.sheet, served?.through ?? null),
    sheet: given.sheet,
    source: problem.source,
    content: problem.content,
    ...(encoder ? { encoder } : {}),
    ...(uplink ? { usableBps: uplink.usableBps } : {}),
  };
}

/** Findings against every destination of a plan. */
export function findingsOf(problem: FitProblem, plan: WholePlan): Map<string, Finding[]> {
  return new Map(
    plan.destinations.flatMap(({ destinationId, settings }): [string, Finding[]][] => {
      const input = settings && checkOf(problem, destinationId, plan, settings);
      return input ? [[destinationId, checkSettings(input)]] : [];
    }),
  );
}
