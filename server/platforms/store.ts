import type { Reach } from "@ukaza/contract/encoder";
import type { ListedSheet, SheetVersion } from "@ukaza/contract/library";
import { Refusal } from "@ukaza/contract/problem";
import { type RuleSheet, ruleSheet } from "@ukaza/contract/ruleSheet";
import { documentDiff } from "@ukaza/core/formats/documentDiff";
import type { Queryable } from "../db/open";
import { queries } from "../db/queries";
import { freshIdAmong } from "../ids";

const q = queries(__dirname);

export const noSheet = (id: string) =>
  new Refusal(404, "no-such-platform", `there is no rule sheet of "${id}"`, "GET /api/platforms lists them.");

interface Row {
  doc: unknown;
  reach: Reach;
  savedAt: Date;
  versions: number;
}

/** The newest sheet of every platform, or of the one asked for. What a sheet of an earlier version does not say is filled in. */
export async function newestSheets(db: Queryable, platformId: string | null): Promise<ListedSheet[]> {
  const { rows } = await db.query<Row>(q("newest"), [platformId]);
  return rows.map(({ doc, savedAt, ...row }) => ({ sheet: ruleSheet.parse(doc), ...row, savedAt: savedAt.toISOString() }));
}

export async function newestSheet(db: Queryable, platformId: string): Promise<ListedSheet> {
  const [listed] = await newestSheets(db, platformId);
  if (!listed) throw noSheet(platformId);
  return listed;
}

export async function sheetAt(db: Queryable, platformId: string, revision: number): Promise<RuleSheet> {
  const [row] = (await db.query<{ doc: unknown }>(q("version"), [platformId, revision])).rows;
  if (!row)
    throw new Refusal(
      404,
      "no-such-version",
      `there is no version ${revision} of the sheet of "${platformId}"`,
      "Choose one of its versions.",
    );
  return ruleSheet.parse(row.doc);
}

/** All versions, the newest first, each with what it changed against the one before. */
export async function sheetVersions(db: Queryable, platformId: string): Promise<SheetVersion[]> {
  const { rows } = await db.query<{ doc: unknown; revision: number; savedAt: Date; events: SheetVersion["events"] }>(q("versions"), [
    platformId,
  ]);
  if (rows.length === 0) throw noSheet(platformId);
  const sheets = rows.map((row) => ruleSheet.parse(row.doc));
  return rows.map((row, i) => {
    const [sheet, before] = [sheets[i] as RuleSheet, sheets[i + 1]];
    return {
      revision: row.revision,
      savedAt: row.savedAt.toISOString(),
      checkedOn: sheet.source.checkedOn,
      checkedBy: sheet.source.checkedBy,
      changes: before ? documentDiff(before, sheet) : [],
      events: row.events,
    };
  });
}

/** Puts a sheet into the book at the revision it names; one that is there already must say the same. */
export async function putSheet(db: Queryable, sheet: RuleSheet, reach: Reach, at: string): Promise<void> {
  const { rows } = await db.query(q("save"), [sheet.platform.id, sheet.revision, sheet, reach, at]);
  if (rows.length === 0)
    throw new Refusal(
      409,
      "revision-taken",
      `revision ${sheet.revision} of ${sheet.platform.name} is already here with other contents`,
      "Give the changed sheet the next revision number.",
    );
}

/** How a platform is reached is no part of its sheet: it holds for every version. */
const setReach = (db: Queryable, platformId: string, reach: Reach) => db.query(q("setReach"), [platformId, reach]);

/** Adds a sheet to the book as its platform's next version; the same sheet again changes nothing. Gives the revision it has. */
export async function addVersion(db: Queryable, sheet: RuleSheet, reach: Reach | null, at: string): Promise<number> {
  const { id } = sheet.platform;
  const [held] = await newestSheets(db, id);
  if (reach && held) await setReach(db, id, reach);
  if (held && documentDiff(held.sheet, sheet).length === 0) return held.sheet.revision;
  const revision = held ? held.sheet.revision + 1 : sheet.revision;
  await putSheet(db, { ...sheet, revision }, reach ?? held?.reach ?? { driver: "none" }, at);
  return revision;
}

export async function freshPlatformId(db: Queryable, name: string): Promise<string> {
  const { rows } = await db.query<{ id: string }>(q("ids"));
  return freshIdAmong(name, new Set(rows.map((row) => row.id)));
}

/** Takes a platform out of the book, if no event was ever planned with it. */
export async function removeSheets(db: Queryable, platformId: string): Promise<void> {
  const used = (await sheetVersions(db, platformId)).flatMap((v) => v.events);
  if (used[0])
    throw new Refusal(
      409,
      "platform-in-use",
      `${used[0].name} was planned with this rule sheet${used.length > 1 ? `, and ${used.length - 1} more` : ""}`,
      "A sheet that an event was planned with stays in the book.",
    );
  await db.query(q("remove"), [platformId]);
}
