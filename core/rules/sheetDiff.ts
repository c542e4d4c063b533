import type { RuleSheet } from "@ukaza/contract/ruleSheet";

/** One place at which two sheets differ; null stands for "not there". */
export interface SheetChange {
  /** Names from the top, as "audio.maxBps" or "modes[1920×1080 h264 25, 30].maxBps". */
  path: string;
  before: unknown;
  after: unknown;
}

/** What a row of a list is known by, so that a new row in the middle is not a change of all below it. */
const keys: Record<string, (row: Record<string, unknown>) => string> = {
  modes: (m) => `${m.width}×${m.height} ${m.codec} ${(m.frameRates as string[]).join(", ")}`,
  protocols: (p) => String(p.protocol),
  regions: (r) => String(r.id),
  latencyModes: (l) => String(l.name),
};

const isRecord = (value: unknown): value is Record<string, unknown> => typeof value === "object" && value !== null && !Array.isArray(value);
const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

function walk(path: string, name: string, before: unknown, after: unknown, into: SheetChange[]): void {
  if (same(before, after)) return;
  const keyOf = keys[name];
  if (isRecord(before) && isRecord(after)) {
    for (const field of new Set([...Object.keys(before), ...Object.keys(after)])) {
      const next = path === "" ? field : `${path}.${field}`;
      walk(next, field, before[field] ?? null, after[field] ?? null, into);
    }
  } else if (keyOf && Array.isArray(before) && Array.isArray(after)) {
    const [old, now] = [before, after].map((rows) => new Map(rows.map((row) => [keyOf(row as Record<string, unknown>), row as unknown])));
    for (const key of new Set([...(old?.keys() ?? []), ...(now?.keys() ?? [])]))
      walk(`${path}[${key}]`, "", old?.get(key) ?? null, now?.get(key) ?? null, into);
  } else into.push({ path, before: before ?? null, after: after ?? null });
}

/** What a sheet says that another did not: every place once, rows told by what they are and not by where they stand. */
export function sheetDiff(before: RuleSheet, after: RuleSheet): SheetChange[] {
  const changes: SheetChange[] = [];
  const { revision: _r, ...old } = before;
  const { revision: _s, ...now } = after;
  walk("", "", old, now, changes);
  return changes;
}
