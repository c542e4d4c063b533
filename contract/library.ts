import { z } from "zod";
import { encoder, reach } from "./encoder";
import { event } from "./event";
import { ruleSheet } from "./ruleSheet";
import { fileVersion, id, instant, title } from "./units";
import { venue } from "./venue";
import { eventRecord } from "./wrap";

/** A rule sheet's platform, how the server reaches it beside it. */
export const platformFile = z.strictObject({ format: z.literal("ukaza-platform"), version: fileVersion, reach, sheet: ruleSheet });

/** Every document that can be imported, told apart by its `format`. */
export const importFile = z.discriminatedUnion("format", [venue, platformFile, encoder, event, eventRecord]);

/** The documents of the library: those that are shown with their differences before they are taken. */
export const libraryFile = z.discriminatedUnion("format", [platformFile, encoder]);

/** A file of the library is a few pages of text; what is larger is something else. Bytes. */
export const LIBRARY_FILE_MOST = 2_000_000;

/** One place at which two documents differ; null stands for "not there". */
export const documentChange = z.strictObject({
  /** Names from the top, as "audio.maxBps" or "modes[1920×1080 h264 25, 30].maxBps". */
  path: z.string(),
  before: z.unknown(),
  after: z.unknown(),
});

/** A document from outside, read and held against the book, not yet taken. */
export const libraryPreview = z.strictObject({
  kind: z.enum(["sheet", "encoder"]),
  id,
  name: title,
  standing: z.enum(["new", "same", "changed"]),
  /** Against what the book holds; empty where it is new. */
  changes: z.array(documentChange),
  /** The revision it would be given; null for an encoder. */
  revision: z.number().int().nullable(),
  document: libraryFile,
});

/** A file of the library, by its text or by a link to it. */
export const librarySource = z.union([
  z.strictObject({ text: z.string().max(LIBRARY_FILE_MOST) }),
  z.strictObject({ link: z.url({ protocol: /^https?$/, message: "write the link as https://…/sheet.json" }).max(2_000) }),
]);

/** A sheet in the list of platforms. */
export const listedSheet = z.strictObject({ sheet: ruleSheet, reach, savedAt: instant, versions: z.number().int() });

/** One version of a sheet in the list of its versions, the newest first, with what it changed. */
export const sheetVersion = z.strictObject({
  revision: z.number().int(),
  savedAt: instant,
  checkedOn: z.string(),
  checkedBy: z.string(),
  changes: z.array(documentChange),
  events: z.array(z.strictObject({ id, name: title })),
});

/** A sheet as it was edited, and the revision the editing began from; null: a new one. */
export const sheetSave = z.strictObject({ sheet: ruleSheet, reach: reach.optional(), from: z.number().int().nullable() });

/** What has changed in a platform's sheet since an event was planned with it. */
export const newerSheet = z.strictObject({
  platformId: id,
  platformName: title,
  planned: z.number().int(),
  newest: z.number().int(),
  changes: z.array(documentChange),
  /** Why the event must stay with the sheet it has; null: it may change. */
  held: z.string().nullable(),
});

export type ImportFile = z.infer<typeof importFile>;
export type LibraryFile = z.infer<typeof libraryFile>;
export type LibraryPreview = z.infer<typeof libraryPreview>;
export type LibrarySource = z.infer<typeof librarySource>;
export type DocumentChange = z.infer<typeof documentChange>;
export type ListedSheet = z.infer<typeof listedSheet>;
export type SheetVersion = z.infer<typeof sheetVersion>;
export type SheetSave = z.infer<typeof sheetSave>;
export type NewerSheet = z.infer<typeof newerSheet>;
