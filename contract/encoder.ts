import { z } from "zod";
import { codec, profile, protocol, settingsPatch } from "./settings";
import { bps, fileVersion, frameRate, id, px, title } from "./units";

/** How the server reaches a device or a service. */
export const reach = z.discriminatedUnion("driver", [
  /** A stand-in that was started with the server, by its name. */
  z.strictObject({ driver: z.literal("standin"), name: id }),
  /** A device that speaks the encoder interface of docs/devices.md, by its address. */
  z.strictObject({
    driver: z.literal("http"),
    address: z.url({ protocol: /^https?$/, message: "write the address as http://192.168.8.20:8080" }).max(300),
  }),
  /** Nothing reaches it: a person does what is to be done. */
  z.strictObject({ driver: z.literal("none") }),
]);

/** How address and key come into an encoder. */
export const setBy = z.enum(["one field", "two fields", "settings file", "code", "remote"]);

/** What an encoder can say to an ingest beside address and key. */
export const credential = z.enum(["login", "stream id", "passphrase", "user agent"]);

/** One picture signal that an input takes. */
export const signal = z.strictObject({
  width: px,
  height: px,
  frameRates: z.array(frameRate).min(1).max(30),
  scan: z.enum(["progressive", "interlaced"]),
});

export const input = z.strictObject({
  connector: z.enum(["SDI", "HDMI", "USB", "network", "camera"]),
  /** Empty: whatever the connector carries. */
  signals: z.array(signal).max(50).default([]),
});

/** Where a recording can go, with what a file may grow to there. */
export const recordingTarget = z.strictObject({
  name: title,
  kind: z.enum(["disk", "card", "network drive"]),
  freeBytes: z.number().int().min(0).max(1e15),
  /** The file system's limit, bytes; null: none that a show would meet. */
  maxFileBytes: z.number().int().min(1_000_000).max(1e15).nullable().default(null),
});

export const networkPort = z.strictObject({ name: title, kind: z.enum(["wired", "wi-fi", "modem"]) });

const level = z.string().regex(/^\d(\.\d)?$/, 'write a level as "4.1"');

/** What one encoder can do. `maxLumaPerS` is luma samples per second over all engines. */
export const encoder = z
  .strictObject({
    format: z.literal("ukaza-encoder"),
    version: fileVersion,
    id,
    name: title,
    kind: z.enum(["software", "hardware", "field pack", "phone", "receiver"]),
    serial: z.string().max(60).default(""),
    engines: z.number().int().min(1).max(32),
    maxFeeds: z.number().int().min(1).max(64),
    codecs: z
      .array(z.strictObject({ codec, profiles: z.array(profile).min(1), maxLevel: level }))
      .min(1)
      .max(3),
    maxWidth: px,
    maxHeight: px,
    /** The only sizes it makes; null: any up to the largest. */
    sizes: z
      .array(z.strictObject({ width: px, height: px }))
      .min(1)
      .max(100)
      .nullable()
      .default(null),
    /** The only frame rates it makes; null: any. */
    frameRates: z.array(frameRate).min(1).max(50).nullable().default(null),
    orientations: z
      .array(z.enum(["landscape", "portrait"]))
      .min(1)
      .max(2)
      .default(["landscape", "portrait"]),
    maxLumaPerS: z.number().int().min(1),
    /** Pixels that each side of its pictures must be a multiple of. */
    sizeMultiple: z.literal([2, 4, 8, 16]).default(2),
    /** Makes whole pictures of an interlaced camera's fields. */
    deinterlaces: z.boolean().default(true),
    /** Sends another frame rate than comes in. */
    convertsFrameRate: z.boolean().default(true),
    /** Whether it puts keyframes where the picture cuts, beside those at the interval. */
    keyframesAtCuts: z.enum(["never", "always", "choice"]).default("choice"),
    videoBps: z.strictObject({ min: bps, max: bps, step: bps.min(1000) }),
    audioMaxBps: bps,
    audioRatesHz: z.array(z.number().int().min(8_000).max(192_000)).min(1).max(10).default([44_100, 48_000]),
    audioChannelsMax: z.number().int().min(1).max(16).default(2),
    protocols: z.array(protocol).min(1).max(3),
    credentials: z.array(credential).max(4).default(["login", "stream id", "passphrase", "user agent"]),
    inputs: z.array(input).max(20).default([]),
    setBy,
    presets: z
      .array(z.strictObject({ name: title, settings: settingsPatch }))
      .max(50)
      .default([]),
    recordings: z.array(recordingTarget).max(10).default([]),
    network: z.array(networkPort).max(20).default([]),
    note: z.string().max(1_000).default(""),
    reach,
  })
  .refine((e) => e.videoBps.min <= e.videoBps.max, {
    path: ["videoBps", "min"],
    message: "the minimum is above the maximum",
  });

export type Encoder = z.infer<typeof encoder>;
export type Reach = z.infer<typeof reach>;
export type Credential = z.infer<typeof credential>;
