import type { Incident, Sample, Verdict } from "@ukaza/contract/air";
import type { ActiveSpan } from "@ukaza/contract/wrap";
import type { Queryable } from "../db/open";
import { queries } from "../db/queries";
import type { Run } from "../events/store";

const q = queries(__dirname);

/** Appends samples in one statement; a sample that is already there stays as it is. */
export async function insertSamples(db: Queryable, samples: Sample[]): Promise<void> {
  if (samples.length > 0) await db.query(q("insertSamples"), [JSON.stringify(samples)]);
}

type SampleRow = Omit<Sample, "at"> & { at: Date };

/** Samples of an event's feeds from `since` (ISO 8601) on, in order of time. */
export async function readSamples(db: Queryable, eventId: string, since: string): Promise<Sample[]> {
  return (await db.query<SampleRow>(q("samples"), [eventId, since])).rows.map((row) => ({ ...row, at: row.at.toISOString() }));
}

export async function sampleStepS(db: Queryable, eventId: string): Promise<number> {
  return (await db.query<{ stepS: number }>(q("sampleStep"), [eventId])).rows[0]?.stepS ?? 1;
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

/** Samples of events finished before `before` keep one point for every ten seconds. */
export async function thinFinished(db: Queryable, before: string): Promise<void> {
  await db.query(q("thinFinished"), [before]);
}
