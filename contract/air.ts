import { z } from "zod";
import { broadcastState, failoverPolicy } from "./event";
import { lineTest } from "./lineTest";
import { stepId } from "./lineup";
import { role } from "./rig";
import { settings } from "./settings";
import { lineTrouble } from "./standins";
import { bps, id, instant, ratio } from "./units";

export const health = z.enum(["steady", "strained", "broken", "silent"]);
export const cause = z.enum(["encoder", "uplink", "platform", "source", "unknown"]);

/** One second of one feed. null: that side did not answer in this second. */
export const sample = z.strictObject({
  feedId: id,
  at: instant,
  targetBps: bps,
  sentBps: bps.nullable(),
  receivedBps: bps.nullable(),
  framesEncoded: z.number().min(0).nullable(),
  framesDropped: z.number().min(0).nullable(),
  frameRateHz: z.number().min(0),
  encoderLoad: ratio.nullable(),
  queueMs: z.number().min(0).nullable(),
  rttMs: z.number().min(0).nullable(),
  retransmittedShare: ratio.nullable(),
  reconnects: z.number().int().min(0).nullable(),
  keyframeS: z.number().min(0).nullable(),
  audioDb: z.number().nullable(),
  /** 0: the picture stands still; 1: everything moves. */
  pictureChange: ratio.nullable(),
  platform: z.enum(["good", "poor", "refused"]).nullable(),
});

export const evidenceItem = z.strictObject({
  sign: z.enum([
    "sent-low",
    "dropped",
    "queue",
    "round-trip",
    "retransmitted",
    "keyframe",
    "refused",
    "no-picture",
    "not-heard",
    "received-low",
    "encoded-low",
    "encoder-load",
    "siblings-suffer",
    "siblings-fine",
  ]),
  is: z.number().nullable(),
  limit: z.number().nullable(),
});

/** The state of a feed, since when, and what speaks for it. */
export const verdict = z.strictObject({
  feedId: id,
  health,
  since: instant,
  cause: cause.nullable(),
  evidence: z.array(evidenceItem),
});

export const switchReason = z.enum([
  "main-broken",
  "backup-broken",
  "main-steady-again",
  "by-hand",
  "limit-reached",
  "no-better-feed",
  "return-by-hand",
]);

/** What failover decided and why. `gapS`: how long the viewers had no steady feed before it. */
export const decision = z.strictObject({
  kind: z.enum(["switch", "call", "advise"]),
  from: role,
  to: role,
  reason: switchReason,
  gapS: z.number().min(0),
});

export const logKind = z.enum([
  "event-created",
  "fit-chosen",
  "broadcast-created",
  "key-revealed",
  "encoder-configured",
  "sheet-renewed",
  "kit-out",
  "kit-in",
  "read-back",
  "step-done",
  "step-failed",
  "health",
  "switch",
  "call",
  "advise",
  "trouble",
  "server-started-again",
  "driver-lost",
  "driver-back",
  "note",
]);

/** What a log line speaks of; which of these are there depends on its kind. Words are made of them in the app. */
export const logData = z.strictObject({
  from: z.string().optional(),
  to: z.string().optional(),
  cause: cause.nullable().optional(),
  evidence: z.array(evidenceItem).optional(),
  decision: decision.optional(),
  foundOnPlatform: z.boolean().optional(),
  step: z.union([stepId, z.literal("switch")]).optional(),
  by: z.enum(["crew", "platform"]).optional(),
  verdict: z.string().nullable().optional(),
  reason: z.string().nullable().optional(),
  uplinkId: id.optional(),
  change: lineTrouble.optional(),
  gapS: z.number().optional(),
  side: z.enum(["encoder", "platform"]).optional(),
  why: z.string().optional(),
  forS: z.number().optional(),
  settings: settings.optional(),
  despite: z.array(z.string()).optional(),
  platform: z.string().optional(),
  encoder: z.string().optional(),
  roles: z.array(role).optional(),
  role: role.optional(),
  equal: z.boolean().optional(),
  differing: z.array(z.string()).optional(),
  text: z.string().optional(),
});

export const logLine = z.strictObject({
  id: z.number().int(),
  at: instant,
  kind: logKind,
  level: z.enum(["info", "warn", "alarm"]),
  feedId: id.nullable(),
  data: logData,
});

export const incident = z.strictObject({
  id: z.string(),
  destinationId: id,
  startedAt: instant,
  endedAt: instant.nullable(),
  worst: health,
  cause: cause.nullable(),
  evidence: z.array(evidenceItem),
  actions: z.array(z.strictObject({ at: instant, decision })),
});

export const feedNow = z.strictObject({
  id,
  role,
  uplinkId: id,
  uplinkName: z.string(),
  encoderName: z.string(),
  targetBps: bps,
  verdict: verdict.nullable(),
  last: sample.nullable(),
});

export const airNow = z.strictObject({
  eventId: id,
  at: instant,
  running: z.boolean(),
  standins: z.boolean(),
  destinationId: id,
  platformName: z.string(),
  broadcast: broadcastState,
  publicAt: instant.nullable(),
  active: role,
  feeds: z.array(feedNow),
  policy: failoverPolicy,
  incident: incident.nullable(),
});

/** An order to the line stand-in from the demo's trouble sheet. */
export const trouble = z.strictObject({ uplinkId: id, change: lineTrouble });

/** What the server sends down its one event stream. */
export const streamMessage = z.discriminatedUnion("type", [
  z.strictObject({ type: z.literal("samples"), samples: z.array(sample) }),
  z.strictObject({ type: z.literal("log"), lines: z.array(logLine) }),
  z.strictObject({
    type: z.literal("changed"),
    what: z.array(z.enum(["event", "survey", "fit", "rig", "lineup", "air", "wrap"])),
  }),
  z.strictObject({ type: z.literal("line-test"), test: lineTest }),
]);

export type Health = z.infer<typeof health>;
export type Cause = z.infer<typeof cause>;
export type Sample = z.infer<typeof sample>;
export type EvidenceItem = z.infer<typeof evidenceItem>;
export type Verdict = z.infer<typeof verdict>;
export type Decision = z.infer<typeof decision>;
export type LogData = z.infer<typeof logData>;
export type LogLine = z.infer<typeof logLine>;
export type LogKind = z.infer<typeof logKind>;
export type Incident = z.infer<typeof incident>;
export type FeedNow = z.infer<typeof feedNow>;
export type AirNow = z.infer<typeof airNow>;
export type Trouble = z.infer<typeof trouble>;
export type StreamMessage = z.infer<typeof streamMessage>;
