import { z } from "zod";
import { chosenFit } from "./event";
import { fitProblem } from "./fit";
import { role } from "./rig";
import { settings } from "./settings";
import { bps, fileVersion, instant, timeZone, title } from "./units";
import { metered } from "./venue";

/** What the fit stage shows: the problem that the measurements and the kit make, and what was chosen. */
export const fitNow = z.strictObject({
  /** null: no uplink has a usable rate yet. */
  problem: fitProblem.nullable(),
  unmeasured: z.array(title),
  uplinkNames: z.record(z.string(), z.string()),
  sustainableBps: z.record(z.string(), z.number()),
  /** What metered uplinks give and cost, by uplink. */
  metered: z.record(z.string(), metered).default({}),
  chosen: chosenFit.nullable(),
  /** Settings can no longer change: the encoder sends already. */
  fixed: z.boolean(),
});

/** `despite`: chosen although a finding blocks. */
export const fitChoice = chosenFit.omit({ savedAt: true, destinationId: true }).extend({ despite: z.boolean().default(false) });

/** What one encoder is told for an event, to read out, print or save. No key stands in it. */
export const settingsSheet = z.strictObject({
  format: z.literal("ukaza-settings-sheet"),
  version: fileVersion,
  event: title,
  venue: title,
  show: z.strictObject({ start: instant, end: instant }),
  timeZone,
  platform: title,
  encoder: title,
  serial: z.string(),
  chosenAt: instant,
  settings,
  /** Frames between keyframes, as some encoders ask for it. */
  keyframeFrames: z.number().int(),
  feeds: z.array(z.strictObject({ role, uplink: title, loadBps: bps, address: z.string().nullable() })),
});

export type SettingsSheet = z.infer<typeof settingsSheet>;
export type FitNow = z.infer<typeof fitNow>;
export type FitChoice = z.infer<typeof fitChoice>;
