import { z } from "zod";
import { frozenField } from "./ruleSheet";
import { id, instant } from "./units";

export const stepId = z.enum(["send", "receive", "verdict", "preview", "watch", "public", "end", "stop"]);

/** What has happened so far to one destination. Every time is an instant or null. */
export const lineupFacts = z.strictObject({
  configured: z.boolean(),
  sendingAt: instant.nullable(),
  receivingAt: instant.nullable(),
  verdictAt: instant.nullable(),
  verdict: z.enum(["good", "poor", "refused"]).nullable(),
  verdictReason: z.string().nullable(),
  previewAt: instant.nullable(),
  watchedAt: instant.nullable(),
  publicAt: instant.nullable(),
  endedAt: instant.nullable(),
  stoppedAt: instant.nullable(),
});

export const stepState = z.enum(["locked", "ready", "waiting", "late", "failed", "done"]);

/** One row of the run sheet. `waitedS` counts from when the step's turn came. */
export const step = z.strictObject({
  id: stepId,
  actor: z.enum(["encoder", "platform", "person"]),
  state: stepState,
  needs: z.array(stepId),
  missing: z.array(stepId),
  irreversible: z.boolean(),
  freezes: z.array(frozenField),
  typicalS: z.number().nullable(),
  longestS: z.number().nullable(),
  waitingSince: instant.nullable(),
  doneAt: instant.nullable(),
  reason: z.string().nullable(),
});

export const runSheet = z.strictObject({
  destinationId: id,
  endsFirst: z.enum(["platform", "encoder"]),
  steps: z.array(step),
  facts: lineupFacts,
});

export type StepId = z.infer<typeof stepId>;
export type StepState = z.infer<typeof stepState>;
export type Step = z.infer<typeof step>;
export type LineupFacts = z.infer<typeof lineupFacts>;
export type RunSheet = z.infer<typeof runSheet>;
