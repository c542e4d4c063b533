import { z } from "zod";
import { protocol, settings } from "./settings";
import { bps, id, instant, ratio } from "./units";

export const login = z.strictObject({ user: z.string().min(1).max(100), password: z.string().min(1).max(200) });

/** What is said to an ingest beside address and key; null: it is not asked for. */
export const credentials = z.strictObject({
  login: login.nullable().default(null),
  passphrase: z.string().min(10).max(79).nullable().default(null),
  streamId: z.string().max(512).nullable().default(null),
  userAgent: z.string().max(100).nullable().default(null),
});

/** The wire of the platform stand-in (standins/platform/openapi.json). */
export const broadcastOrder = z.strictObject({
  title: z.string().min(1).max(200),
  description: z.string().max(5000),
  access: z.enum(["public", "by link", "private"]),
  /** How the encoder will send; left out: the first that the platform takes. */
  protocol: protocol.optional(),
  region: id.nullable().default(null),
  /** A key that outlasts the broadcast, where one can be asked for. */
  lastingKey: z.boolean().default(false),
});

/** Which ingest the viewers are to see. */
export const sourceOrder = z.strictObject({ role: z.enum(["main", "backup"]) });

export const broadcastIngest = z.strictObject({
  role: z.enum(["main", "backup"]),
  address: z.string(),
  key: z.string(),
  login: login.nullable().default(null),
  passphrase: z.string().nullable().default(null),
});

export const ingestStatus = z.strictObject({
  role: z.enum(["main", "backup"]),
  receiving: z.boolean(),
  receivedBps: bps,
  heardAt: instant.nullable(),
  verdict: z.enum(["good", "poor", "refused"]).nullable(),
  reason: z.string().nullable(),
  /** The settings of what comes in, as the platform sees them; null: nothing comes. */
  received: settings.nullable().default(null),
});

export const broadcast = z.strictObject({
  id: z.string(),
  state: z.enum(["created", "receiving", "public", "ended"]),
  source: z.enum(["main", "backup"]),
  ingests: z.array(ingestStatus),
  previewReady: z.boolean(),
  publicAt: instant.nullable(),
  endedAt: instant.nullable(),
  /** What it has cost so far, in the platform's currency; null: it costs nothing. */
  costSoFar: z.number().min(0).nullable().default(null),
});

export const broadcastCreated = broadcast.extend({ keys: z.array(broadcastIngest) });

/** One second of media on its way to an ingest. */
export const mediaSecond = z.strictObject({
  bits: z.number().min(0),
  settings,
  pictureChange: ratio,
  audioDb: z.number(),
});

/** The wire of the line stand-in (standins/line/openapi.json). */
export const carryOrder = z.strictObject({
  feedId: id,
  ingestUrl: z.url(),
  key: z.string(),
  credentials: credentials.prefault({}),
  /** The feed's own rate and what waits in the encoder's queue, in bits at the IP layer for this second. */
  offeredBits: z.number().min(0),
  /** Media bits in each bit at the IP layer, for what reaches the platform. */
  mediaShare: ratio,
  media: mediaSecond.omit({ bits: true }),
});

export const carried = z.strictObject({
  carriedBits: z.number().min(0),
  rttMs: z.number().min(0),
  retransmittedShare: ratio,
  platform: z.enum(["accepted", "refused", "unreachable"]),
});

export const lineUplink = z.strictObject({
  id,
  capacityBps: bps,
  rttMs: z.number(),
  lossRatio: ratio,
  /** Where the way out through this uplink to the reflector begins, TCP and UDP; null: no reflector was named. */
  entry: z.strictObject({ host: z.string(), port: z.number().int() }).nullable(),
  trouble: z.enum(["none", "sunk", "cut"]),
});

/** What is wrong with a stand-in line, set by hand. `toBps` is at the IP layer. */
export const lineTrouble = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("sink"), toBps: bps }),
  z.strictObject({ kind: z.literal("cut") }),
  z.strictObject({ kind: z.literal("recover") }),
]);

/** The wire of the encoder stand-in (standins/encoder/openapi.json). */
export const encoderFeed = z.strictObject({
  address: z.string().max(500),
  key: z.string().max(200),
  uplinkId: id,
  credentials: credentials.prefault({}),
});

export const encoderFeedStatus = z.strictObject({
  feedId: id,
  sending: z.boolean(),
  sentBps: bps,
  framesEncoded: z.number(),
  framesDropped: z.number(),
  queueMs: z.number(),
  rttMs: z.number().nullable(),
  retransmittedShare: ratio.nullable(),
  reconnects: z.number().int(),
  keyframeS: z.number(),
  audioDb: z.number(),
  pictureChange: ratio,
  connection: z.enum(["idle", "accepted", "refused", "unreachable"]),
});

export const encoderStatus = z.strictObject({
  encoderId: id,
  at: instant,
  encoderLoad: ratio,
  feeds: z.array(encoderFeedStatus),
});

/** What the encoder is told, and what it says it holds. */
export const encoderConfig = z.strictObject({
  engine: z.strictObject({ settings: settings.nullable() }),
  feeds: z.record(id, encoderFeed),
});

/** What an encoder is given as a file: the same as by remote control, and whom it is for. */
export const settingsFile = z.strictObject({
  format: z.literal("encoder-settings"),
  version: z.literal(1),
  serial: z.string().max(60),
  ...encoderConfig.shape,
});

export type Credentials = z.infer<typeof credentials>;
export type SettingsFile = z.infer<typeof settingsFile>;
export type BroadcastOrder = z.input<typeof broadcastOrder>;
export type Broadcast = z.infer<typeof broadcast>;
export type BroadcastCreated = z.infer<typeof broadcastCreated>;
export type CarryOrder = z.infer<typeof carryOrder>;
export type Carried = z.infer<typeof carried>;
export type LineUplink = z.infer<typeof lineUplink>;
export type EncoderFeed = z.infer<typeof encoderFeed>;
export type EncoderFeedStatus = z.infer<typeof encoderFeedStatus>;
export type EncoderStatus = z.infer<typeof encoderStatus>;
export type EncoderHeld = z.infer<typeof encoderConfig>;
export type LineTrouble = z.infer<typeof lineTrouble>;
export type MediaSecond = z.infer<typeof mediaSecond>;
