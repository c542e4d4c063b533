import type { Incident, Sample, Verdict } from "@ukaza/contract/air";
import type { ActiveSpan } from "@ukaza/contract/wrap";
import { fromCells, type SampleCells, toCells } from "@ukaza/core/formats/sampleRows";
import { groupBy } from "@ukaza/core/groupBy";
import { thinSamples } from "@ukaza/core/wrap/thinSamples";
import type { Db, Queryable } from "../db/open";
import { queries } from "../db/queries";
import type { Run } from "../events/store";

const q = queries(__dirname);

/** Before anything was ever sampled. */
export const EVER = "1970-01-01T00:00:00Z";
const THIN_STEP_S = 10;

interface Batch {
  feedId: string;
  rows: SampleCells[];
}

/** Appends samples, given in order of time, in one statement; a batch that is already there stays as it is. */
export async function insertSamples(db: Queryable, samples: readonly Sample[], stepS = 1): Promise<void> {
  const batches = [...groupBy(samples, (s) => s.feedId)];
  if (batches.length === 0) return;
  await db.query(q("insertBatches"), [
    batches.map(([feedId]) => feedId),
    batches.map(([, own]) => own[0]?.at),
    batches.map(([, own]) => own.at(-1)?.at),
    batches.map(([, own]) => JSON.stringify(own.map(toCells))),
    stepS,
  ]);
}

/** Samples of an event's feeds from `since` (ISO 8601) on, in order of time. */
export async function readSamples(db: Queryable, eventId: string, since: string): Promise<Sample[]> {
  const sinceMs = Date.parse(since);
  const { rows: batches } = await db.query<Batch>(q("batches"), [eventId, since]);
  const samples = batches.flatMap(({ feedId, rows }) => rows.map((cells) => fromCells(cells, feedId)));
  return samples.filter((s) => Date.parse(s.at) >= sinceMs).sort((a, b) => a.at.localeCompare(b.at));
}

/** Seconds that one sample of an event stands for. */
export async function sampleStepS(db: Queryable, eventId: string): Promise<number> {
  return (await db.query<{ stepS: number }>(q("stepS"), [eventId])).rows[0]?.stepS ?? 1;
}

export async function insertVerdict(db: Queryable, verdict: Verdict): Promise<void> {
  await db.query(q("insertVerdict"), [verdict.feedId, verdict.since, verdict]);
}

export async function readVerdicts(db: Queryable, eventId: string): Promise<Verdict[]> {
  return (await db.query<{ doc: Verdict }>(q("verdicts"), [eventId])).rows.map((row) => row.doc);
}

export async function insertSpan(db: Queryable, eventId: string, destinationId: string, from: string, role: string): Promise<void> {
  await db.query(q("insertSpan"), [eventId, destinationId, from, role]);
}

export async function readSpans(db: Queryable, eventId: string): Promise<ActiveSpan[]> {
  const { rows } = await db.query<{ from: Date; role: ActiveSpan["role"] }>(q("spans"), [eventId]);
  return rows.map((row) => ({ from: row.from.toISOString(), role: row.role }));
}

export async function insertIncident(db: Queryable, eventId: string, incident: Incident): Promise<void> {
  await db.query(q("saveIncident"), [eventId, incident.id, incident.startedAt, incident.endedAt, incident]);
}

export async function readIncidents(db: Queryable, eventId: string): Promise<Incident[]> {
  return (await db.query<{ doc: Incident }>(q("incidents"), [eventId])).rows.map((row) => row.doc);
}

export async function saveRun(db: Queryable, eventId: string, run: Run): Promise<void> {
  await db.query(q("saveRun"), [eventId, run.destinationId, run.facts, run.failover, run.lineupRttMs]);
}

/** The event is over: it keeps the first time it was said. */
export async function finish(db: Queryable, eventId: string, at: string): Promise<void> {
  await db.query(q("finish"), [eventId, at]);
}

/** Events whose encoder was told to send and not yet to stop. */
export async function runningEvents(db: Queryable): Promise<string[]> {
  return (await db.query<{ eventId: string }>(q("running"))).rows.map((row) => row.eventId);
}

/** Samples of events finished before `before` (ISO 8601) keep one point for every ten seconds. */
export async function thinFinished(db: Db, before: string): Promise<void> {
  const { rows } = await db.query<{ id: string }>(q("toThin"), [before]);
  for (const { id } of rows) {
    await db.transaction(async (tx) => {
      const thinned = thinSamples(await readSamples(tx, id, EVER), THIN_STEP_S);
      await tx.query(q("dropBatches"), [id]);
      await insertSamples(tx, thinned, THIN_STEP_S);
    });
  }
}
