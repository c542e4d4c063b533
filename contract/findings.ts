import { z } from "zod";
import { encoder } from "./encoder";
import { ruleSheet } from "./ruleSheet";
import { content, settings, settingsPatch, source } from "./settings";
import { bps } from "./units";

export const findingLevel = z.enum(["blocks", "risks", "notes"]);

/** Where a rule stands: the platform's sheet, the encoder, the camera, the line, or a standard's clause. */
export const ruleAt = z.strictObject({
  by: z.enum(["sheet", "encoder", "source", "uplink", "standard", "rule of thumb"]),
  clause: z.string(),
});

const figure = z.union([z.number(), z.string()]);

/** One difference between settings and a rule. `code` picks the words; `mend` changes the least. */
export const finding = z.strictObject({
  code: z.string(),
  level: findingLevel,
  field: settings.keyof(),
  is: figure,
  wanted: z.strictObject({
    min: z.number().optional(),
    max: z.number().optional(),
    oneOf: z.array(figure).optional(),
  }),
  rule: ruleAt,
  mend: settingsPatch.nullable(),
});

/** What settings are checked against; only the sheet is needed. */
export const checkInput = z.strictObject({
  sheet: ruleSheet,
  settings,
  encoder: encoder.optional(),
  source: source.optional(),
  usableBps: bps.optional(),
  content: content.optional(),
});

export type Finding = z.infer<typeof finding>;
export type CheckInput = z.infer<typeof checkInput>;
