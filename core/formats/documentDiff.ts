import type { DocumentChange } from "@ukaza/contract/library";

/** What a row of a list is known by, so that a new row in the middle is not a change of all below it. */
const keys: Record<string, (row: Record<string, unknown>) => string> = {
  modes: (m) => `${m.width}×${m.height} ${m.codec} ${(m.frameRates as string[]).join(", ")}`,
  protocols: (p) => String(p.protocol),
  regions: (r) => String(r.id),
  latencyModes: (l) => String(l.name),
  codecs: (c) => String(c.codec),
  presets: (p) => String(p.name),
  recordings: (r) => String(r.name),
  network: (n) => String(n.name),
};

const isRecord = (value: unknown): value is Record<string, unknown> => typeof value === "object" && value !== null && !Array.isArray(value);
const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

function walk(path: string, name: string, before: unknown, after: unknown, into: DocumentChange[]): void {
  if (same(before, after)) return;
  const keyOf = keys[name];
  if (isRecord(before) && isRecord(after)) {
    for (const field of new Set([...Object.keys(before), ...Object.keys(after)])) {
      const next = path === "" ? field : `${path}.${field}`;
      walk(next, field, before[field] ?? null, after[field] ?? null, into);
    }
  } else if (keyOf && Array.isArray(before) && Array.isArray(after)) {
    const [old, now] = [before, after].map((rows) => byKey(rows as Record<string, unknown>[], keyOf));
    for (const key of new Set([...(old?.keys() ?? []), ...(now?.keys() ?? [])]))
      walk(`${path}[${key}]`, "", old?.get(key) ?? null, now?.get(key) ?? null, into);
  } else into.push({ path, before: before ?? null, after: after ?? null });
}

/** Rows by what they are; the second of two alike is known as such. */
function byKey(rows: readonly Record<string, unknown>[], keyOf: (row: Record<string, unknown>) => string): Map<string, unknown> {
  const found = new Map<string, unknown>();
  for (const row of rows) {
    let key = keyOf(row);
    for (let n = 2; found.has(key); n++) key = `${keyOf(row)} (${n})`;
    found.set(key, row);
  }
  return found;
}

/**
 * What a document says that another did not: every place once, rows of a list told by what they are and not by where
 * they stand. A sheet's revision counts its changes and is none itself.
 */
export function documentDiff(before: object, after: object): DocumentChange[] {
  const changes: DocumentChange[] = [];
  walk("", "", { ...before, revision: null }, { ...after, revision: null }, changes);
  return changes;
}
