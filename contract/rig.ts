import { z } from "zod";
import { settings } from "./settings";
import { bps, id, instant, title } from "./units";

export const role = z.enum(["main", "backup"]);

/** An ingest address as the app sees it: the key shows only its last four characters. */
export const ingest = z.strictObject({ role, address: z.string(), keyMasked: z.string(), receivedAt: instant });

/** One field as it was asked for and as the encoder really holds it. Keys are compared but never shown. */
export const heldField = z.strictObject({
  feed: role,
  field: z.string(),
  wanted: z.string(),
  held: z.string(),
  equal: z.boolean(),
});

export const rigNow = z.strictObject({
  destinationId: id,
  platformName: title,
  encoderName: title,
  ingests: z.array(ingest),
  configuredAt: instant.nullable(),
  readBack: z.strictObject({ at: instant, fields: z.array(heldField), equal: z.boolean() }).nullable(),
});

/** A feed as the encoder's driver is told to make it. */
export const feedOrder = z.strictObject({
  feedId: id,
  role,
  uplinkId: id,
  address: z.string().min(1).max(500),
  key: z.string().min(1).max(200),
});

export const feed = z.strictObject({
  id,
  role,
  destinationId: id,
  encoderId: id,
  uplinkId: id,
  targetBps: bps,
  settings,
});

export type Role = z.infer<typeof role>;
export type HeldField = z.infer<typeof heldField>;
export type RigNow = z.infer<typeof rigNow>;
export type FeedOrder = z.infer<typeof feedOrder>;
export type Feed = z.infer<typeof feed>;
