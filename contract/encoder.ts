import { z } from "zod";
import { codec, profile, protocol } from "./settings";
import { bps, id, px, title } from "./units";

/** How the server reaches a device or a service: the driver's name and which one it speaks to. */
export const reach = z.strictObject({ driver: z.literal("standin"), name: id });

/** What one encoder can do. `maxLumaPerS` is luma samples per second over all engines. */
export const encoder = z
  .strictObject({
    format: z.literal("ukaza-encoder"),
    version: z.literal(1),
    id,
    name: title,
    kind: z.enum(["software", "hardware", "field pack", "phone", "receiver"]),
    engines: z.number().int().min(1).max(32),
    maxFeeds: z.number().int().min(1).max(64),
    codecs: z.array(z.strictObject({ codec, profiles: z.array(profile).min(1), maxLevel: z.string().regex(/^\d(\.\d)?$/) })).min(1),
    maxWidth: px,
    maxHeight: px,
    maxLumaPerS: z.number().int().min(1),
    /** Pixels that each side of its pictures must be a multiple of. */
    sizeMultiple: z.literal([2, 4, 8, 16]).default(2),
    /** Makes whole pictures of an interlaced camera's fields. */
    deinterlaces: z.boolean().default(true),
    videoBps: z.strictObject({ min: bps, max: bps, step: bps.min(1000) }),
    audioMaxBps: bps,
    protocols: z.array(protocol).min(1),
    addressFields: z.enum(["one", "two"]),
    reach,
  })
  .refine((e) => e.videoBps.min <= e.videoBps.max, {
    path: ["videoBps", "min"],
    message: "the minimum is above the maximum",
  });

export type Encoder = z.infer<typeof encoder>;
export type Reach = z.infer<typeof reach>;
