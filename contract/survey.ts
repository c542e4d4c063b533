import { z } from "zod";
import { bps, id, instant, ratio, title } from "./units";

/** Where in the stack a rate was counted. Everything is turned into IP-layer rates before it is compared. */
export const rateLayer = z.enum(["ip", "tcp", "udp"]);

/** A measurement as a person or a file gives it. `rateBps` is at `layer`. */
export const measurementInput = z.strictObject({
  takenAt: instant,
  durationS: z.number().min(0).max(86_400).default(10),
  rateBps: bps.min(1),
  layer: rateLayer,
  /** UDP payload per datagram in bytes; needed to count its headers. */
  udpPayloadBytes: z.number().int().min(1).max(65_507).optional(),
  /** One figure a second, bit/s at `layer`, where the test kept one. */
  seriesBps: z.array(bps).max(3600).optional(),
  /** A UDP run at a set rate that lost nothing: the line carries at least this. */
  floor: z.boolean().default(false),
  rttMs: z.number().min(0).max(60_000).optional(),
  jitterMs: z.number().min(0).max(60_000).optional(),
  lossRatio: ratio.optional(),
  source: z.enum(["by hand", "csv", "iperf3"]),
});

export const measurement = measurementInput.extend({ id, uplinkId: id });

export const uplinkKind = z.enum(["wired", "wi-fi", "cellular", "satellite"]);

export const uplink = z.strictObject({
  id,
  name: title,
  kind: uplinkKind,
  note: z.string().max(500).default(""),
  /** Overrides the reserve that the evidence asks for; null leaves it. */
  reserveOverride: ratio.max(0.9).nullable().default(null),
  /** Price per decimal gigabyte where the line is metered, in the crew's own currency. */
  pricePerGb: z.number().min(0).optional(),
});

export const venue = z.strictObject({
  format: z.literal("ukaza-venue"),
  version: z.literal(1),
  id,
  name: title,
  timeZone: z.string(),
  note: z.string().max(500).default(""),
  uplinks: z.array(uplink).min(1).max(20),
});

export const evidence = z.enum(["interval", "minimum", "few", "none"]);

/** What the measurements of one uplink say about show time. Rates are bit/s at the IP layer. */
export const sustainable = z.strictObject({
  evidence,
  total: z.number().int(),
  nearShow: z.number().int(),
  used: z.number().int(),
  sameKindOfDay: z.enum(["weekday", "weekend"]).nullable(),
  allHours: z.boolean(),
  aged: z.number().int(),
  floors: z.number().int(),
  sustainableBps: bps.nullable(),
  ruleReserve: ratio,
  reserve: ratio,
  usableBps: bps.nullable(),
  usedIds: z.array(z.string()),
});

export const pathVerdict = z.strictObject({
  rttMs: z.number().nullable(),
  lossRatio: ratio.nullable(),
  rtmpCapBps: bps.nullable(),
  srtLatencyMs: z.number(),
  srtExtraShare: z.number(),
  favours: z.enum(["rtmp", "srt", "either"]),
  why: z.enum(["tcp-capped", "clean", "lossy", "unmeasured"]),
});

/** A measurement with its own rate at the IP layer worked out. */
export const countedMeasurement = measurement.extend({ ownIpBps: z.number() });

export const uplinkSurvey = z.strictObject({
  uplink: uplink,
  measurements: z.array(countedMeasurement),
  result: sustainable,
  path: pathVerdict,
});

/** One fault found in a file, with the line it stands on. */
export const fileFault = z.strictObject({
  line: z.number().int().nullable(),
  column: z.string().nullable(),
  message: z.string(),
});

export type RateLayer = z.infer<typeof rateLayer>;
export type MeasurementInput = z.infer<typeof measurementInput>;
export type Measurement = z.infer<typeof measurement>;
export type CountedMeasurement = z.infer<typeof countedMeasurement>;
export type Uplink = z.infer<typeof uplink>;
export type Venue = z.infer<typeof venue>;
export type Sustainable = z.infer<typeof sustainable>;
export type PathVerdict = z.infer<typeof pathVerdict>;
export type UplinkSurvey = z.infer<typeof uplinkSurvey>;
export type FileFault = z.infer<typeof fileFault>;
