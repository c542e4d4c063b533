import { readFileSync } from "node:fs";
import { join } from "node:path";

/** The queries of a folder's `queries.sql`, each under a line `-- name: …`. Asking for an unknown one throws. */
export function queries(folder: string): (name: string) => string {
  const parts = readFileSync(join(folder, "queries.sql"), "utf8").split(/^-- name: *(\S+) *$/m);
  const byName = new Map<string, string>();
  for (let i = 1; i + 1 < parts.length; i += 2) byName.set(parts[i] ?? "", (parts[i + 1] ?? "").trim());
  return (name) => {
    const text = byName.get(name);
    if (text === undefined) throw new Error(`no query "${name}" in ${folder}`);
    return text;
  };
}
