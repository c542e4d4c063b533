import type { Encoder } from "@ukaza/contract/encoder";
import { type LibraryFile, type LibraryPreview, type LibrarySource, libraryFile } from "@ukaza/contract/library";
import { Refusal, readAs } from "@ukaza/contract/problem";
import { documentDiff } from "@ukaza/core/formats/documentDiff";
import { asLibraryFile, readJsonText } from "@ukaza/core/formats/libraryText";
import type { Queryable } from "../db/open";
import { encodersOf } from "../kit/store";
import { newestSheets } from "../platforms/store";
import { fetchLink } from "./fetchLink";

/** Reads a file of the library and holds it against the book; nothing is taken yet. */
export async function previewOf(db: Queryable, source: LibrarySource): Promise<LibraryPreview> {
  const read = readJsonText("link" in source ? await fetchLink(source.link) : source.text);
  if (read.fault) throw new Refusal(422, "not-a-document", read.fault.detail, read.fault.mend);
  const document = readAs(libraryFile, asLibraryFile(read.value), "file");
  return document.format === "ukaza-platform" ? sheetPreview(db, document) : encoderPreview(db, document);
}

async function sheetPreview(db: Queryable, document: LibraryFile & { format: "ukaza-platform" }): Promise<LibraryPreview> {
  const { sheet } = document;
  const { id, name } = sheet.platform;
  const [held] = await newestSheets(db, id);
  const changes = held ? documentDiff(held.sheet, sheet) : [];
  const standing = !held ? "new" : changes.length === 0 ? "same" : "changed";
  const revision = !held ? sheet.revision : held.sheet.revision + (changes.length === 0 ? 0 : 1);
  return { kind: "sheet", id, name, standing, changes, revision, document };
}

async function encoderPreview(db: Queryable, document: Encoder): Promise<LibraryPreview> {
  const [held] = await encodersOf(db, document.id);
  const changes = held ? documentDiff(held, document) : [];
  const standing = !held ? "new" : changes.length === 0 ? "same" : "changed";
  return { kind: "encoder", id: document.id, name: document.name, standing, changes, revision: null, document };
}
