import { z } from "zod";
import { encoder, reach } from "./encoder";
import { event } from "./event";
import { ruleSheet } from "./ruleSheet";
import { uplinkKind, venue } from "./survey";
import { eventRecord } from "./wrap";

/** A rule sheet's platform, how the server reaches it beside it. */
export const platformFile = z.strictObject({ format: z.literal("ukaza-platform"), version: z.literal(1), reach, sheet: ruleSheet });

/** Every document that can be imported, told apart by its `format`. */
export const importFile = z.discriminatedUnion("format", [venue, platformFile, encoder, event, eventRecord]);

/** A venue as the list shows it. */
export const venueListed = z.strictObject({
  id: z.string(),
  name: z.string(),
  timeZone: z.string(),
  note: z.string(),
  uplinks: z.array(z.strictObject({ id: z.string(), name: z.string(), kind: uplinkKind, note: z.string(), tests: z.number() })),
});

export type ImportFile = z.infer<typeof importFile>;
export type VenueListed = z.infer<typeof venueListed>;
