import { z } from "zod";
import { instant, ratio } from "./units";

/**
 * A built-in test of an uplink. planned: at its time; waiting: behind another test; missed: the server was not up;
 * skipped: a feed was on the line.
 */
export const lineTestState = z.enum(["planned", "waiting", "running", "done", "failed", "cancelled", "missed", "skipped"]);

export const lineTestProgress = z.strictObject({
  phase: z.enum(["reaching", "probing", "uploading"]),
  share: ratio,
  /** What is getting through now, bit/s at the IP layer. */
  rateBps: z.number().nullable(),
});

export const lineTest = z.strictObject({
  id: z.string(),
  uplinkId: z.string(),
  dueAt: instant,
  state: lineTestState,
  startedAt: instant.nullable(),
  endedAt: instant.nullable(),
  measurementId: z.string().nullable(),
  /** What the test sent over the line, bytes. */
  bytes: z.number().nullable(),
  /** Why it failed or was skipped. */
  reason: z.string().nullable(),
  progress: lineTestProgress.nullable(),
});

/** How many tests one plan may hold. */
export const MOST_PLANNED = 300;

/** Now, or at these times. */
export const lineTestOrder = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("now") }),
  z.strictObject({ kind: z.literal("plan"), at: z.array(instant).min(1).max(MOST_PLANNED) }),
]);

/** What the testing process is told, and what it says. */
export const lineTestJob = z.strictObject({
  host: z.string(),
  port: z.number().int().min(1).max(65_535),
  localAddress: z.string().nullable(),
  connections: z.number().int().min(1).max(16),
  uploadS: z.number().min(2).max(60),
  probes: z.number().int().min(1).max(2_000),
  probeEveryMs: z.number().min(5).max(1_000),
});

export type LineTestState = z.infer<typeof lineTestState>;
export type LineTestProgress = z.infer<typeof lineTestProgress>;
export type LineTest = z.infer<typeof lineTest>;
export type LineTestOrder = z.infer<typeof lineTestOrder>;
export type LineTestJob = z.infer<typeof lineTestJob>;

/** The first line of a connection to the reflector; bytes to be counted follow it. */
export const reflectorHello = z.strictObject({ reflector: z.literal(1), session: z.string().regex(/^[0-9a-f]{16}$/) });

/** What the reflector says of one connection as it goes: bytes so far, by its own clock in ms. */
export const reflectorReport = z.strictObject({ ms: z.number(), bytes: z.number().int().min(0) });

/** What the testing process says to the server. */
export const lineTestMessage = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("progress"), progress: lineTestProgress }),
  z.strictObject({
    kind: z.literal("result"),
    durationS: z.number(),
    /** One figure a second after slow start, bit/s of TCP payload. */
    seriesBps: z.array(z.number().int().min(0)).min(1),
    rttMs: z.number().nullable(),
    jitterMs: z.number().nullable(),
    lossRatio: ratio,
    sentBytes: z.number().int(),
  }),
  z.strictObject({ kind: z.literal("failed"), reason: z.string() }),
]);

export type LineTestMessage = z.infer<typeof lineTestMessage>;
