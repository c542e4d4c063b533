import { z } from "zod";
import { setBy } from "./encoder";
import { settings } from "./settings";
import { credentials, login } from "./standins";
import { bps, id, instant, title } from "./units";

export const role = z.enum(["main", "backup"]);

/** One field of an encoder and what is typed into it. */
export const rigField = z.strictObject({ label: z.string(), value: z.string(), secret: z.boolean() });

/** An ingest address as the app sees it: the key shows only its last four characters, and so do the secret fields. */
export const ingest = z.strictObject({
  role,
  address: z.string(),
  keyMasked: z.string(),
  receivedAt: instant,
  /** What is typed into the encoder, in the fields that it has. */
  fields: z.array(rigField),
});

/** An address and key that a person copied from the page of a platform that nothing reaches. */
export const typedIngest = z.strictObject({
  role,
  address: z.string().max(500),
  key: z.string().max(200),
  login: login.nullable().default(null),
  passphrase: z.string().min(10).max(79).nullable().default(null),
});

/** What is shown to somebody who asked for it twice. */
export const revealed = z.strictObject({ key: z.string(), fields: z.array(rigField) });

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
  platformId: id,
  platformName: title,
  /** Other destinations of the event that are served: they are rigged, lined up and watched by hand from their sheets. */
  others: z.array(title),
  encoderId: id,
  encoderName: title,
  /** How the encoder is set; by hand: nothing reaches it from here. */
  setBy: z.union([setBy, z.literal("by hand")]),
  account: z.enum(["by hand", "none", "waiting", "connected"]),
  /** Ingests whose address and key a person types, and what else this platform may want; empty: it hands them out itself. */
  toType: z.array(z.strictObject({ role, login: z.boolean(), passphrase: z.boolean() })),
  /** For an encoder that is set by a code: whether one was approved; null: it needs none. */
  paired: z.boolean().nullable(),
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
  credentials,
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
export type RigField = z.infer<typeof rigField>;
export type Revealed = z.infer<typeof revealed>;
export type RigNow = z.infer<typeof rigNow>;
export type FeedOrder = z.infer<typeof feedOrder>;
export type Feed = z.infer<typeof feed>;
