import { z } from "zod";
import { codec, profile, protocol, rateControl } from "./settings";
import { bps, fileVersion, frameRate, id, px, title } from "./units";

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

const demand = z.enum(["none", "optional", "required"]);

/** How one protocol is spoken: where to, and how address and key become what an encoder is told. */
export const ingestProtocol = z.strictObject({
  protocol,
  defaultPort: z.number().int().min(1).max(65_535),
  otherPorts: z.array(z.number().int().min(1).max(65_535)).max(20).default([]),
  /** What stands between address and key where they are joined; empty: the key is given apart. */
  separator: z.string().max(5).default("/"),
  /** What is added to the key for the n-th rendition, with {n} for its number; null: one rendition only. */
  renditionSuffix: z.string().max(20).regex(/\{n\}/, "write {n} where the number stands").nullable().default(null),
  login: demand.default("none"),
  /** SRT: who calls whom, from the encoder's side. */
  srtMode: z.enum(["caller", "listener"]).nullable().default(null),
  /** SRT: the stream ID with {key} where the key stands. */
  streamId: z
    .string()
    .max(200)
    .regex(/\{key\}/, "write {key} where the key stands")
    .nullable()
    .default(null),
  passphrase: demand.default("none"),
  /** What the encoder must call itself, where the platform asks for it. */
  userAgent: z.string().max(100).nullable().default(null),
});

/** A latency mode by name, with the delay that viewers see, in seconds. */
export const latencyMode = z.strictObject({ name: title, delayS: z.number().min(0).max(300) });

/** What a listing may hold. */
export const listing = z.strictObject({
  titleMax: z.number().int().min(1).max(10_000),
  descriptionMax: z.number().int().min(0).max(100_000),
  picture: z
    .strictObject({
      minWidth: px,
      minHeight: px,
      /** Width over height, as 16:9. */
      aspect: z.string().regex(/^\d{1,3}:\d{1,3}$/, "write a shape as 16:9"),
      maxBytes: z.number().int().min(1),
      types: z.array(z.enum(["jpeg", "png", "webp"])).min(1),
    })
    .nullable(),
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
  version: fileVersion,
  platform: z.strictObject({ id, name: title }),
  /** Counts up each time the sheet changes. */
  revision: z.number().int().min(1),
  source: z.strictObject({ title, checkedOn: z.iso.date(), checkedBy: title }),
  modes: z.array(mode).min(1).max(400),
  /** The modes are suggestions: every picture that the codec's standard allows is taken. */
  openModes: z.boolean().default(false),
  rateControls: z.array(rateControl).min(1),
  keyframe: z
    .strictObject({ minS: z.number().min(0.1), recommendedS: z.number().min(0.1), maxS: z.number().max(30) })
    .refine((k) => k.minS <= k.recommendedS && k.recommendedS <= k.maxS, {
      path: ["recommendedS"],
      message: "the recommended keyframe interval lies outside minimum and maximum",
    }),
  /** The interval must not move with the picture: no keyframes at cuts. */
  keyframeFixed: z.boolean().default(false),
  bFramesMax: z.number().int().min(0).max(16),
  audio: z.strictObject({
    codec: z.literal("aac"),
    minBps: bps,
    recommendedBps: bps.optional(),
    maxBps: bps,
    sampleRatesHz: z.array(z.number().int()).min(1),
    channelsMax: z.number().int().min(1).max(8),
  }),
  protocols: z.array(ingestProtocol).min(1).max(20),
  /** Ways in that the platform also takes and that no encoder here speaks yet. */
  alsoTakes: z
    .array(z.enum(["hls push", "whip"]))
    .max(2)
    .default([]),
  backupIngest: z.boolean(),
  /** Whether the backup must be sent with the very settings of the main feed. */
  backupSameSettings: z.boolean().default(true),
  /** How many renditions of a picture can be sent side by side. */
  renditionsMax: z.number().int().min(1).max(20).default(1),
  /** Where the platform takes streams, if it has several places. */
  regions: z
    .array(z.strictObject({ id, name: title }))
    .max(50)
    .default([]),
  transcodes: z.boolean(),
  keyLife: z.enum(["lasting", "one-broadcast", "dies-on-stop"]),
  /** A key that outlasts its broadcast can be asked for. */
  lastingKeyOnRequest: z.boolean().default(false),
  latencyModes: z.array(latencyMode).max(10).default([]),
  listing: listing.nullable().default(null),
  /** What an hour costs, in the platform's own currency; null: nothing. It runs until the last feed stops. */
  pricePerHour: z.number().min(0).max(100_000).nullable().default(null),
  lifecycle,
});

export type Mode = z.infer<typeof mode>;
export type Wait = z.infer<typeof wait>;
export type Lifecycle = z.infer<typeof lifecycle>;
export type RuleSheet = z.infer<typeof ruleSheet>;
