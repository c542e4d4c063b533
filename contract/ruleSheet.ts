import { z } from "zod";
import { codec, profile, protocol, rateControl } from "./settings";
import { bps, frameRate, id, px, title } from "./units";

/** One row of a rule sheet: a size and its frame rates with the bitrates the platform takes. */
export const mode = z
  .strictObject({
    width: px,
    height: px,
    frameRates: z.array(frameRate).min(1),
    codec,
    profiles: z.array(profile).min(1),
    maxLevel: z.string().regex(/^\d(\.\d)?$/, 'write a level as "4.1"'),
    minBps: bps,
    recommendedBps: bps.optional(),
    maxBps: bps,
  })
  .refine((m) => m.minBps <= m.maxBps, { path: ["minBps"], message: "the minimum is above the maximum" })
  .refine((m) => m.recommendedBps === undefined || (m.recommendedBps >= m.minBps && m.recommendedBps <= m.maxBps), {
    path: ["recommendedBps"],
    message: "the recommended bitrate lies outside minimum and maximum",
  });

/** How long a step usually takes and when it is late, in seconds. */
const wait = z
  .strictObject({ typicalS: z.number().min(0).max(3600), longestS: z.number().min(0).max(3600) })
  .refine((w) => w.typicalS <= w.longestS, { path: ["typicalS"], message: "the usual wait is above the longest" });

export const frozenField = z.enum(["codec", "size", "frameRate", "videoBps", "audio", "keyframe", "protocol"]);

/** The order a platform asks for, from the first bit to the end of the broadcast. */
export const lifecycle = z.strictObject({
  receive: wait,
  verdict: wait,
  /** null: the platform shows no preview; the picture is public as soon as it is made so. */
  preview: wait.nullable(),
  publicIrreversible: z.boolean(),
  endIrreversible: z.boolean(),
  endsFirst: z.enum(["platform", "encoder"]),
  freezes: z.array(z.strictObject({ at: z.enum(["preview", "public"]), fields: z.array(frozenField).min(1) })),
});

export const ruleSheet = z.strictObject({
  format: z.literal("ukaza-rule-sheet"),
  version: z.literal(1),
  platform: z.strictObject({ id, name: title }),
  /** Counts up each time the sheet changes. */
  revision: z.number().int().min(1),
  source: z.strictObject({ title, checkedOn: z.iso.date(), checkedBy: title }),
  modes: z.array(mode).min(1).max(400),
  rateControls: z.array(rateControl).min(1),
  keyframe: z
    .strictObject({ minS: z.number().min(0.1), recommendedS: z.number().min(0.1), maxS: z.number().max(30) })
    .refine((k) => k.minS <= k.recommendedS && k.recommendedS <= k.maxS, {
      path: ["recommendedS"],
      message: "the recommended keyframe interval lies outside minimum and maximum",
    }),
  bFramesMax: z.number().int().min(0).max(16),
  audio: z.strictObject({
    codec: z.literal("aac"),
    minBps: bps,
    recommendedBps: bps.optional(),
    maxBps: bps,
    sampleRatesHz: z.array(z.number().int()).min(1),
    channelsMax: z.number().int().min(1).max(8),
  }),
  protocols: z.array(z.strictObject({ protocol, defaultPort: z.number().int().min(1).max(65_535) })).min(1),
  backupIngest: z.boolean(),
  /** Where the platform takes streams, if it has several places. */
  regions: z
    .array(z.strictObject({ id, name: title }))
    .max(50)
    .default([]),
  transcodes: z.boolean(),
  keyLife: z.enum(["lasting", "one-broadcast", "dies-on-stop"]),
  lifecycle,
});

export type Mode = z.infer<typeof mode>;
export type Wait = z.infer<typeof wait>;
export type Lifecycle = z.infer<typeof lifecycle>;
export type RuleSheet = z.infer<typeof ruleSheet>;
