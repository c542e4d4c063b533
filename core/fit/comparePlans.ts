import type { PlanDestination, WholePlan } from "@ukaza/contract/fitPlan";
import type { Settings } from "@ukaza/contract/settings";

/** One field of a destination in which two plans differ; null: it is not served there. */
export interface FieldDifference {
  destinationId: string;
  field: keyof Settings | "served" | "main" | "backup" | "through" | "renditions";
  a: unknown;
  b: unknown;
}

export interface PlanComparison {
  fields: FieldDifference[];
  /** Score of each destination in both; null: not served. */
  scores: { destinationId: string; a: number | null; b: number | null }[];
  /** Load of each uplink in both, bit/s at the IP layer. */
  loads: { uplinkId: string; a: number; b: number }[];
  points: { a: number; b: number };
}

const wayOf = (d: PlanDestination, role: "main" | "backup"): string | null => {
  const feed = d.feeds.find((f) => f.role === role);
  return feed ? `${feed.encoderId} ${feed.uplinkId}` : null;
};

/** Two plans of one event field by field and by score. A destination that only one of them knows counts as not served in the other. */
export function comparePlans(a: WholePlan, b: WholePlan): PlanComparison {
  const ids = [...new Set([...a.destinations, ...b.destinations].map((d) => d.destinationId))];
  const uplinkIds = [...new Set([...a.uplinks, ...b.uplinks].map((u) => u.uplinkId))];
  const of = (plan: WholePlan, id: string) => plan.destinations.find((d) => d.destinationId === id);
  const load = (plan: WholePlan, id: string) => plan.uplinks.find((u) => u.uplinkId === id)?.loadBps ?? 0;
  return {
    fields: ids.flatMap((id) => differences(id, of(a, id), of(b, id))),
    scores: ids.map((destinationId) => ({
      destinationId,
      a: of(a, destinationId)?.score?.q ?? null,
      b: of(b, destinationId)?.score?.q ?? null,
    })),
    loads: uplinkIds.map((uplinkId) => ({ uplinkId, a: load(a, uplinkId), b: load(b, uplinkId) })),
    points: { a: a.points, b: b.points },
  };
}

function differences(destinationId: string, a: PlanDestination | undefined, b: PlanDestination | undefined): FieldDifference[] {
  const one = (field: FieldDifference["field"], left: unknown, right: unknown): FieldDifference[] =>
    JSON.stringify(left) === JSON.stringify(right) ? [] : [{ destinationId, field, a: left, b: right }];
  if (!a?.settings || !b?.settings) return one("served", Boolean(a?.settings), Boolean(b?.settings));
  const { settings: left } = a;
  const { settings: right } = b;
  return [
    ...(Object.keys(left) as (keyof Settings)[]).flatMap((field) => one(field, left[field], right[field])),
    ...one("main", wayOf(a, "main"), wayOf(b, "main")),
    ...one("backup", wayOf(a, "backup"), wayOf(b, "backup")),
    ...one("through", a.through, b.through),
    ...one("renditions", 1 + a.rungs.length, 1 + b.rungs.length),
  ];
}
