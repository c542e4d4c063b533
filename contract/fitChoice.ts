import { z } from "zod";
import { encoder } from "./encoder";
import { eventPlan } from "./eventPlan";
import { fitProblem } from "./fit";
import { role } from "./rig";
import { settings } from "./settings";
import { bps, fileVersion, id, instant, timeZone, title } from "./units";
import { metered } from "./venue";

/** What the fit stage shows: the problem that the measurements, the kit and the demands make, and the plans made of it. */
export const fitNow = z.strictObject({
  /** null: no uplink has a usable rate yet. */
  problem: fitProblem.nullable(),
  unmeasured: z.array(title),
  uplinkNames: z.record(z.string(), z.string()),
  sustainableBps: z.record(z.string(), z.number()),
  /** What metered uplinks give and cost, by uplink. */
  metered: z.record(z.string(), metered).default({}),
  /** Encoders of the crew that the event does not have. */
  spare: z.array(encoder),
  /** The plan that the event goes by; it stays as it is whatever is measured or asked later. */
  chosen: eventPlan.nullable(),
  /** Plans that were kept, the newest first. */
  plans: z.array(eventPlan),
  /** Settings can no longer change: an encoder sends already. */
  fixed: z.boolean(),
});

/** One engine as an encoder is told to run it, and where its feeds go. */
export const sheetEngine = z.strictObject({
  settings,
  /** Frames between keyframes, as some encoders ask for it. */
  keyframeFrames: z.number().int(),
  feeds: z.array(z.strictObject({ platform: title, role, uplink: title, loadBps: bps, address: z.string().nullable() })),
});

/** What one encoder is told for an event, to read out, print or save. No key stands in it. */
export const settingsSheet = z.strictObject({
  format: z.literal("ukaza-settings-sheet"),
  version: fileVersion,
  event: title,
  venue: title,
  show: z.strictObject({ start: instant, end: instant }),
  timeZone,
  encoderId: id,
  encoder: title,
  serial: z.string(),
  plan: title,
  chosenAt: instant,
  engines: z.array(sheetEngine),
  /** The recording beside the stream, bit/s; null: none. */
  recordBps: bps.nullable(),
});

export type SettingsSheet = z.infer<typeof settingsSheet>;
export type FitNow = z.infer<typeof fitNow>;
