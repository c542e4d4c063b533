import { z } from "zod";
import { encoder, reach } from "./encoder";
import { event } from "./event";
import { ruleSheet } from "./ruleSheet";
import { venue } from "./venue";
import { eventRecord } from "./wrap";

/** A rule sheet's platform, how the server reaches it beside it. */
export const platformFile = z.strictObject({ format: z.literal("ukaza-platform"), version: z.literal(1), reach, sheet: ruleSheet });

/** Every document that can be imported, told apart by its `format`. */
export const importFile = z.discriminatedUnion("format", [venue, platformFile, encoder, event, eventRecord]);

export type ImportFile = z.infer<typeof importFile>;
