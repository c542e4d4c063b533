import { mkdirSync, readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { PGlite } from "@electric-sql/pglite";

export type Db = PGlite;
/** What both a connection and a transaction can do. */
export type Queryable = Pick<PGlite, "query">;

/** Opens the database in `folder` (null: in memory) and brings it up to the newest migration. */
export async function openDb(folder: string | null): Promise<Db> {
  if (folder !== null) mkdirSync(folder, { recursive: true });
  const db = folder === null ? new PGlite() : new PGlite(folder);
  await db.waitReady;
  await migrate(db, join(__dirname, "migrations"));
  return db;
}

/** Runs every numbered file that has not been run yet, each in a transaction of its own. */
async function migrate(db: Db, folder: string): Promise<void> {
  await db.exec("create table if not exists migrations (name text primary key, at timestamptz not null default now())");
  const { rows } = await db.query<{ name: string }>("select name from migrations");
  const done = new Set(rows.map((row) => row.name));
  for (const name of readdirSync(folder)
    .filter((file) => file.endsWith(".sql"))
    .sort()) {
    if (done.has(name)) continue;
    await db.transaction(async (tx) => {
      await tx.exec(readFileSync(join(folder, name), "utf8"));
      await tx.query("insert into migrations (name) values ($1)", [name]);
    });
  }
}
