import { z } from "zod";
import { health, incident, logLine } from "./air";
import { chosenFit, event } from "./event";
import { lineupFacts } from "./lineup";
import { role } from "./rig";
import { bps, fileVersion, id, instant, ratio } from "./units";

const seconds = z.number().min(0);

/** One point of the bitrate chart: the mean over `stepS` seconds. */
export const chartPoint = z.strictObject({ at: instant, sentBps: z.number().nullable(), receivedBps: z.number().nullable() });

export const feedReport = z.strictObject({
  feedId: id,
  role,
  uplinkName: z.string(),
  targetBps: bps,
  meanSentBps: z.number().nullable(),
  lowestSentBps: z.number().nullable(),
  sentBytes: z.number().min(0),
  samples: z.number().int(),
  stepS: z.number().int().min(1),
  points: z.array(chartPoint),
});

/** What was planned against what happened. Times in instants and seconds, data in bytes at the IP layer. */
export const report = z.strictObject({
  format: z.literal("ukaza-report"),
  version: fileVersion,
  eventId: id,
  eventName: z.string(),
  venueName: z.string(),
  timeZone: z.string(),
  madeAt: instant,
  standins: z.boolean(),
  planned: z.strictObject({ start: instant, end: instant, seconds, dataBytes: z.number().nullable() }),
  actual: z.strictObject({ publicAt: instant.nullable(), endedAt: instant.nullable(), seconds }),
  availability: ratio.nullable(),
  secondsBy: z.record(health, seconds),
  unsampledS: seconds,
  incidents: z.array(incident),
  switches: z.number().int(),
  feeds: z.array(feedReport),
  dataBytes: z.number().min(0),
  log: z.array(logLine),
});

/** Which feed the viewers had, from when. */
export const activeSpan = z.strictObject({ from: instant, role });

/** One sample as a row of a file: role, then the fields of a sample from `at` to `platform` in the order of air.ts. */
export const sampleRow = z.tuple([
  role,
  instant,
  bps,
  bps.nullable(),
  bps.nullable(),
  z.number().min(0).nullable(),
  z.number().min(0).nullable(),
  z.number().min(0),
  ratio.nullable(),
  z.number().min(0).nullable(),
  z.number().min(0).nullable(),
  ratio.nullable(),
  z.number().int().min(0).nullable(),
  z.number().min(0).nullable(),
  z.number().nullable(),
  ratio.nullable(),
  z.enum(["good", "poor", "refused"]).nullable(),
]);

/** A whole event with its past, as a file: what an export gives and an import takes. */
export const eventRecord = z.strictObject({
  format: z.literal("ukaza-event-record"),
  version: fileVersion,
  event,
  fit: chosenFit,
  facts: lineupFacts,
  samples: z.array(sampleRow),
  log: z.array(logLine.omit({ id: true, feedId: true }).extend({ role: role.nullable() })),
  incidents: z.array(incident.omit({ id: true })),
});

export type Report = z.infer<typeof report>;
export type FeedReport = z.infer<typeof feedReport>;
export type ChartPoint = z.infer<typeof chartPoint>;
export type ActiveSpan = z.infer<typeof activeSpan>;
export type SampleRow = z.infer<typeof sampleRow>;
export type EventRecord = z.infer<typeof eventRecord>;
