import { z } from "zod";
import { faultsOf } from "./problem";
import { bps, fileVersion, id, instant, ratio, title } from "./units";
import { clockTime, uplink } from "./venue";

/** Where in the stack a rate was counted. Everything is turned into IP-layer rates before it is compared. */
export const rateLayer = z.enum(["ip", "tcp", "udp"]);

/** How a measurement came. One taken through the stand-in line says so for as long as it is kept. */
export const measurementSource = z.enum(["by hand", "csv", "iperf3", "built-in test", "test of the stand-in line"]);

/** Why a test does not count; a person's own words. */
export const exclusion = z.string().trim().min(3, "say in a few words why it does not count").max(200);

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
  source: measurementSource,
  /** Set: the test stays on the list but does not count, for this reason. */
  excluded: exclusion.optional(),
});

export const measurement = measurementInput.extend({ id, uplinkId: id });

/** At most this many measurements come in with one request: the database takes so many in some tens of milliseconds. */
export const BATCH = 500;
/** At most this many contents are asked for with one request. */
export const KEYS = 2_000;

export const measurementBatch = z.strictObject({
  measurements: z.array(measurementInput).min(1).max(BATCH),
  /** Names an import, so that all of it can be taken back. */
  importId: id.nullable().default(null),
  /** Nothing of this import follows; who watches is told. */
  last: z.boolean().default(true),
});

/** Contents of measurements (core/survey/contentKey), asked for before an import. */
export const keysBody = z.strictObject({ keys: z.array(z.string().max(200)).max(KEYS) });

/** One entry of a file of measurements, or what is wrong with it. */
export function readMeasurementEntry(entry: unknown) {
  const parsed = measurementInput.safeParse(entry);
  return parsed.success
    ? { measurement: parsed.data }
    : { faults: faultsOf(parsed.error).map(({ at, message }) => ({ column: at, message })) };
}

/** Every measurement of an uplink as a file. */
export const measurementsFile = z.strictObject({
  format: z.literal("ukaza-measurements"),
  version: fileVersion,
  uplink: title,
  measurements: z.array(measurementInput).max(500_000),
});

/** A measurement as the list shows it. `atShowBps` is its own rate as it would be at show time. */
export const listedMeasurement = z.strictObject({
  id: z.string(),
  takenAt: z.string(),
  ownIpBps: z.number(),
  atShowBps: z.number(),
  source: measurementSource,
  floor: z.boolean(),
  rttMs: z.number().nullable(),
  jitterMs: z.number().nullable(),
  lossRatio: z.number().nullable(),
  counts: z.boolean(),
  outlier: z.enum(["low", "high"]).nullable(),
  excluded: z.string().nullable(),
});

export const measurementSort = z.enum(["time", "rate", "rtt", "loss"]);

/** Which rows of the list are wanted. */
export const pageQuery = z.strictObject({
  sort: measurementSort.default("time"),
  order: z.enum(["asc", "desc"]).default("desc"),
  show: z.enum(["all", "counting", "excluded", "outliers"]).default("all"),
  skip: z.coerce.number().int().min(0).default(0),
  take: z.coerce.number().int().min(1).max(500).default(100),
});

export const measurementPage = z.strictObject({ total: z.number().int(), skip: z.number().int(), rows: z.array(listedMeasurement) });

/** Another show time than the planned one, on the venue's clock. */
export const windowQuery = z.strictObject({ from: clockTime.optional(), until: clockTime.optional() });

export const evidence = z.enum(["interval", "minimum", "few", "none"]);
export const kindOfDay = z.enum(["weekday", "weekend"]);

/** What more tests would give: `more` of them between two minutes of the day make the level below. */
export const nextLevel = z.strictObject({
  more: z.number().int(),
  kindOfDay: kindOfDay,
  evidence,
  reserve: ratio,
  /** Until then tests of all hours count, since too few were taken near show time. */
  leavesAllHours: z.boolean(),
});

/** What the measurements of one uplink say about show time. Rates are bit/s at the IP layer. */
export const sustainable = z.strictObject({
  evidence,
  /** From its own tests, or from the members of a bonded group. */
  basis: z.enum(["tests", "members"]),
  total: z.number().int(),
  nearShow: z.number().int(),
  used: z.number().int(),
  sameKindOfDay: kindOfDay.nullable(),
  allHours: z.boolean(),
  aged: z.number().int(),
  floors: z.number().int(),
  excluded: z.number().int(),
  outliersLow: z.number().int(),
  outliersHigh: z.number().int(),
  /** Local minutes of the day within which tests are near the show; `until` may lie past 1440. */
  window: z.strictObject({ fromMinute: z.number(), untilMinute: z.number() }),
  /** The most that is set aside for others during the show. */
  reservedBps: bps,
  sustainableBps: bps.nullable(),
  ruleReserve: ratio,
  reserve: ratio,
  usableBps: bps.nullable(),
  next: nextLevel.nullable(),
});

export const bondedResult = z.strictObject({
  members: z.array(z.strictObject({ id: z.string(), name: z.string(), sustainableBps: bps.nullable() })),
  /** null while a member has not been measured. */
  togetherBps: bps.nullable(),
  withoutStrongestBps: bps.nullable(),
  strongest: z.string().nullable(),
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

/** One hour of the day: how many tests, and quantiles of their own rates. */
export const hourBand = z.strictObject({
  hour: z.number().int(),
  count: z.number().int(),
  leastBps: z.number(),
  tenthBps: z.number(),
  medianBps: z.number(),
  ninetiethBps: z.number(),
});

export const dayLine = z.strictObject({
  day: z.string(),
  kind: kindOfDay,
  count: z.number().int(),
  leastBps: z.number(),
  medianBps: z.number(),
  nearShow: z.number().int(),
  leastNearBps: z.number().nullable(),
});

/** One bar of the distribution: from (inclusive) to (exclusive), all tests and those that count. */
export const rateBin = z.strictObject({ fromBps: z.number(), toBps: z.number(), count: z.number().int(), counting: z.number().int() });

/** A round trip to one of a platform's regions. */
export const regionTrip = z.strictObject({
  platformId: id,
  regionId: id,
  rttMs: z.number().min(0.1).max(60_000),
  takenAt: instant,
});

export const uplinkSurvey = z.strictObject({
  uplink,
  result: sustainable,
  bonded: bondedResult.nullable(),
  path: pathVerdict,
  hours: z.array(hourBand),
  days: z.array(dayLine),
  bins: z.array(rateBin),
  regions: z.array(regionTrip),
  /** A feed is on this uplink now: a test would hurt it. */
  busy: z.boolean(),
});

export const survey = z.strictObject({
  venueId: z.string(),
  timeZone: z.string(),
  show: z.strictObject({ start: instant, end: instant }),
  uplinks: z.array(uplinkSurvey),
});

/** One fault found in a file, with the line it stands on. */
export const fileFault = z.strictObject({ line: z.number().int().nullable(), column: z.string().nullable(), message: z.string() });

export type Exclusion = z.infer<typeof exclusion>;
export type RateLayer = z.infer<typeof rateLayer>;
export type MeasurementInput = z.infer<typeof measurementInput>;
export type Measurement = z.infer<typeof measurement>;
export type MeasurementsFile = z.infer<typeof measurementsFile>;
export type ListedMeasurement = z.infer<typeof listedMeasurement>;
export type MeasurementPage = z.infer<typeof measurementPage>;
export type MeasurementSort = z.infer<typeof measurementSort>;
export type PageQuery = z.infer<typeof pageQuery>;
export type Evidence = z.infer<typeof evidence>;
export type KindOfDay = z.infer<typeof kindOfDay>;
export type NextLevel = z.infer<typeof nextLevel>;
export type Sustainable = z.infer<typeof sustainable>;
export type BondedResult = z.infer<typeof bondedResult>;
export type PathVerdict = z.infer<typeof pathVerdict>;
export type HourBand = z.infer<typeof hourBand>;
export type DayLine = z.infer<typeof dayLine>;
export type RateBin = z.infer<typeof rateBin>;
export type RegionTrip = z.infer<typeof regionTrip>;
export type UplinkSurvey = z.infer<typeof uplinkSurvey>;
export type Survey = z.infer<typeof survey>;
export type FileFault = z.infer<typeof fileFault>;
