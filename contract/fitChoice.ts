import { z } from "zod";
import { chosenFit } from "./event";
import { fitProblem } from "./fit";
import { title } from "./units";

/** What the fit stage shows: the problem that the measurements and the kit make, and what was chosen. */
export const fitNow = z.strictObject({
  /** null: no uplink has a usable rate yet. */
  problem: fitProblem.nullable(),
  unmeasured: z.array(title),
  uplinkNames: z.record(z.string(), z.string()),
  sustainableBps: z.record(z.string(), z.number()),
  chosen: chosenFit.nullable(),
  /** Settings can no longer change: the encoder sends already. */
  fixed: z.boolean(),
});

/** `despite`: chosen although a finding blocks. */
export const fitChoice = chosenFit.omit({ savedAt: true, destinationId: true }).extend({ despite: z.boolean().default(false) });

export type FitNow = z.infer<typeof fitNow>;
export type FitChoice = z.infer<typeof fitChoice>;
