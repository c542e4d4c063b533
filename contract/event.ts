import { z } from "zod";
import { destinationDemands } from "./demands";
import { content, settings, source } from "./settings";
import { bps, fileVersion, id, instant, timeZone, title } from "./units";

export const stage = z.enum(["survey", "fit", "rig", "lineup", "air", "wrap"]);

export const broadcastState = z.enum(["off", "sending", "public", "ended"]);

/** Rules for switching by itself; the figures come from the failover model and may be changed per event. */
export const failoverPolicy = z.strictObject({
  auto: z.boolean().default(true),
  returnAuto: z.boolean().default(false),
  brokenForS: z.number().min(1).max(60).default(5),
  steadyForS: z.number().min(10).max(3600).default(120),
  maxSwitches: z.number().int().min(0).max(20).default(3),
  withinS: z.number().min(60).max(7200).default(600),
});

export const destination = z.strictObject({
  id,
  platformId: id,
  title,
  description: z.string().max(5000).default(""),
  access: z.enum(["public", "by link", "private"]),
  ...destinationDemands.shape,
  /** One of the platform's latency modes by name; null: its usual one. */
  latencyMode: z.string().max(200).nullable().default(null),
  /** Delay that the platform is asked to add, seconds. */
  addedDelayS: z.number().min(0).max(3600).default(0),
});

const eachOnce = (ids: readonly string[]) => new Set(ids).size === ids.length;

/** One show. `show` is the planned span from public to end. */
export const event = z.strictObject({
  format: z.literal("ukaza-event"),
  version: fileVersion,
  id,
  name: title,
  series: z.string().max(200).default(""),
  venueId: id,
  timeZone,
  show: z.strictObject({ start: instant, end: instant }).refine((s) => Date.parse(s.start) < Date.parse(s.end), {
    path: ["end"],
    message: "the show ends before it starts",
  }),
  source,
  content,
  encoderIds: z.array(id).min(1).max(6).refine(eachOnce, "an encoder stands here twice"),
  /** In the order of their weight. */
  destinations: z
    .array(destination)
    .min(1)
    .max(12)
    .refine((all) => eachOnce(all.map((d) => d.id)), "a destination's id stands here twice"),
  /** Lets bitrates rise from the recommended value to the sheet's maximum. */
  allowMaximum: z.boolean().default(false),
  /** Bitrate of the recording beside the stream, by encoder; none stands for no recording. */
  recordBps: z.record(id, bps.min(100_000).max(1e9)).default({}),
  failover: failoverPolicy.prefault({}),
});

export const stageState = z.enum(["not begun", "under way", "done", "needs you"]);

/** An event with where it stands. */
export const eventNow = z.strictObject({
  event,
  venueName: title,
  finishedAt: instant.nullable(),
  stages: z.record(stage, stageState),
  next: stage,
  broadcast: broadcastState,
});

/** What the crew has chosen for one destination of the event. */
export const chosenFit = z.strictObject({
  destinationId: id,
  settings,
  feeds: z.array(z.strictObject({ role: z.enum(["main", "backup"]), encoderId: id, uplinkId: id })),
  savedAt: instant,
});

export type Stage = z.infer<typeof stage>;
export type StageState = z.infer<typeof stageState>;
export type BroadcastState = z.infer<typeof broadcastState>;
export type FailoverPolicy = z.infer<typeof failoverPolicy>;
export type Destination = z.infer<typeof destination>;
export type Event = z.infer<typeof event>;
export type EventNow = z.infer<typeof eventNow>;
export type ChosenFit = z.infer<typeof chosenFit>;
