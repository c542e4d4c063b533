import { z } from "zod";
import { fitFeed, score } from "./fit";
import { settings } from "./settings";
import { bps, fileVersion, id } from "./units";

/** What keeps a destination from a better picture. */
export const planLimit = z.enum([
  "uplink",
  "backup-uplink",
  "sheet",
  "encoder",
  "source",
  "level",
  /** An engine it shares: another destination there takes no more. */
  "shared",
  /** Engines, their pixel rate, or feeds of the encoders. */
  "engines",
  /** What it would cost the others is worth more. */
  "others",
]);

/** How one destination is served; `settings` null: it is left out. */
export const planDestination = z.strictObject({
  destinationId: id,
  settings: settings.nullable(),
  score: score.nullable(),
  feeds: z.array(fitFeed),
  /** The relay that passes its feed on. */
  through: id.nullable(),
  /** Smaller renditions beside the main one, the largest first. */
  rungs: z.array(settings),
  bound: planLimit,
});

/** One use of engines and uplinks for all destinations. `points`: Σ weight · Q. */
export const wholePlan = z.strictObject({
  points: z.number(),
  destinations: z.array(planDestination),
  engines: z.array(z.strictObject({ encoderId: id, settings, destinationIds: z.array(id), count: z.number().int() })),
  uplinks: z.array(z.strictObject({ uplinkId: id, loadBps: bps, usableBps: bps })),
});

/** Demands that a person makes; of a set that cannot hold together each one is needed to break it. */
export const demand = z.discriminatedUnion("demand", [
  z.strictObject({ demand: z.literal("serve"), destinationId: id }),
  z.strictObject({ demand: z.literal("backup"), destinationId: id }),
  z.strictObject({ demand: z.literal("backup-encoder"), destinationId: id }),
  z.strictObject({ demand: z.literal("fixed"), destinationId: id, fields: z.array(z.string()) }),
  z.strictObject({ demand: z.literal("not-over"), destinationId: id, uplinkIds: z.array(id) }),
  z.strictObject({ demand: z.literal("only-from"), destinationId: id, encoderId: id }),
  z.strictObject({ demand: z.literal("through"), destinationId: id, relayId: id }),
  z.strictObject({ demand: z.literal("renditions"), destinationId: id, count: z.number().int() }),
]);

/** The bound says that no plan has more points; `proved`: it is the plan's own. Otherwise the search was stopped. */
export const certificate = z.strictObject({
  points: z.number(),
  boundPoints: z.number(),
  proved: z.boolean(),
  nodes: z.number().int(),
});

export const wholeAnswer = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("fit"), plan: wholePlan, certificate }),
  z.strictObject({ kind: z.literal("none"), conflict: z.array(demand), proved: z.boolean() }),
]);

/** Plans that differ in kind, and what more or less of something would be worth, in points. */
export const insights = z.strictObject({
  runnersUp: z.array(z.strictObject({ plan: wholePlan, differs: z.array(id) })),
  /** One more Mb/s on an uplink. */
  oneMoreMbps: z.array(z.strictObject({ uplinkId: id, points: z.number() })),
  oneMoreEngine: z.array(z.strictObject({ encoderId: id, points: z.number() })),
  /** What the others would gain if one were dropped; null: it is left out already. */
  dropping: z.array(z.strictObject({ destinationId: id, points: z.number().nullable() })),
  /** What keeps each destination back, seen by lifting the lines and the engines. */
  bounds: z.array(z.strictObject({ destinationId: id, bound: planLimit })),
  /** No search behind these was stopped before it was done; otherwise something may be worth more than is said. */
  proved: z.boolean(),
});

export type PlanLimit = z.infer<typeof planLimit>;
export type PlanDestination = z.infer<typeof planDestination>;
export type WholePlan = z.infer<typeof wholePlan>;
export type Demand = z.infer<typeof demand>;
export type WholeAnswer = z.infer<typeof wholeAnswer>;
export type Insights = z.infer<typeof insights>;

/** The whole answer to a fit problem as a file. */
export const fitReport = z.strictObject({
  format: z.literal("ukaza-fit-answer"),
  version: fileVersion,
  answer: wholeAnswer,
  /** null: there is no plan to ask about. */
  insights: insights.nullable(),
});

export type FitReport = z.infer<typeof fitReport>;
