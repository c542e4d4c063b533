import { z } from "zod";
import { destinationDemands } from "./demands";
import { event } from "./event";
import { planLimit, wholePlan } from "./fitPlan";
import { role } from "./rig";
import { settings } from "./settings";
import { id, instant, title } from "./units";

/** How one destination is to be served; what follows from it is worked out where it is kept. `settings` null: it is left out. */
export const plannedDestination = z.strictObject({
  destinationId: id,
  settings: settings.nullable(),
  feeds: z.array(z.strictObject({ role, encoderId: id, uplinkId: id })).max(2),
  through: id.nullable().default(null),
  rungs: z.array(settings).max(7).default([]),
  bound: planLimit.default("others"),
});

/** A plan as the crew sends it, to be kept or to be used. `despite`: although a finding blocks. */
export const planChoice = z.strictObject({
  name: title,
  destinations: z.array(plannedDestination).min(1).max(12),
  despite: z.boolean().default(false),
});

/** What is asked of each destination of an event, the weightiest first. */
export const eventDemands = z.strictObject({
  encoderIds: event.shape.encoderIds,
  allowMaximum: z.boolean(),
  recordBps: event.shape.recordBps,
  destinations: z
    .array(z.strictObject({ id, ...destinationDemands.shape }))
    .min(1)
    .max(12),
});

/** A plan that was kept, with what was asked when it was made. */
export const eventPlan = z.strictObject({
  id,
  name: title,
  savedAt: instant,
  demands: eventDemands,
  plan: wholePlan,
});

export type PlannedDestination = z.infer<typeof plannedDestination>;
export type PlanChoice = z.infer<typeof planChoice>;
export type EventDemands = z.infer<typeof eventDemands>;
export type EventPlan = z.infer<typeof eventPlan>;
