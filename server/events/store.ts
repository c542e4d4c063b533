import type { LogData, LogKind, LogLine } from "@ukaza/contract/air";
import { type Encoder, encoder as encoderSchema, type Reach } from "@ukaza/contract/encoder";
import { type ChosenFit, type Destination, type Event, event as eventSchema } from "@ukaza/contract/event";
import type { EventPlan } from "@ukaza/contract/eventPlan";
import type { LineupFacts } from "@ukaza/contract/lineup";
import { Refusal } from "@ukaza/contract/problem";
import type { Feed, RigNow } from "@ukaza/contract/rig";
import { type RuleSheet, ruleSheet } from "@ukaza/contract/ruleSheet";
import type { FailoverState } from "@ukaza/core/air/failover";
import { groupBy } from "@ukaza/core/groupBy";
import type { Queryable } from "../db/open";
import { queries } from "../db/queries";

const q = queries(__dirname);

/** One destination's row of `runs`, with its documents read. */
export interface Run {
  eventId: string;
  destinationId: string;
  sheetRevision: number;
  fit: ChosenFit | null;
  broadcastId: string | null;
  configuredAt: string | null;
  readBack: RigNow["readBack"];
  facts: LineupFacts;
  failover: FailoverState;
  lineupRttMs: Record<string, number>;
}

export type NamedFeed = Feed & { uplinkName: string };

/** A destination of an event with its run and the sheet that it was planned with. */
export interface Planned {
  destination: Destination;
  run: Run;
  sheet: RuleSheet;
  reach: Reach;
}

/** Everything the fit needs to know of one event. */
export interface EventPlanning {
  event: Event;
  venueName: string;
  finishedAt: string | null;
  /** In the order of their weight. */
  planned: Planned[];
  encoders: Encoder[];
  /** Feeds of all destinations. */
  feeds: NamedFeed[];
  chosenPlan: EventPlan | null;
}

/** What the stages after the fit need to know: one destination of an event, and the encoder that its main feed comes from. */
export interface EventDossier extends EventPlanning {
  destination: Destination;
  run: Run;
  sheet: RuleSheet;
  platformReach: Reach;
  encoder: Encoder;
  /** Feeds of this destination. */
  feeds: NamedFeed[];
  /** Names of the platforms that are rigged and watched by hand meanwhile. */
  others: string[];
}

export interface ListRow {
  doc: Event;
  finished_at: Date | null;
  venue_name: string;
  chosen_plan: EventPlan | null;
  incident_open: boolean;
  measured: boolean;
  runs: Run[];
  /** The run of the destination that leads. */
  lead: Run;
}

export const iso = (date: Date | null): string | null => (date === null ? null : date.toISOString());

export const noSuchEvent = (id: string) => new Refusal(404, "no-such-event", `there is no event "${id}"`, "GET /api/events lists them.");

/** All events, or the one asked for, with what their progress is computed from. */
export async function listEvents(db: Queryable, eventId: string | null): Promise<ListRow[]> {
  const { rows } = await db.query<Omit<ListRow, "lead" | "runs">>(q("list"), [eventId]);
  const runs = groupBy(await loadRuns(db, eventId), (run) => run.eventId);
  return rows.map((row) => {
    // What an event of an earlier version does not say is filled in.
    const doc = eventSchema.parse(row.doc);
    const own = runs.get(doc.id) ?? [];
    return { ...row, doc, runs: own, lead: leadOf(doc, own) };
  });
}

/**
 * The run that the stages after the fit go by: the one with a broadcast already, else the weightiest that has a feed of
 * its own, else the weightiest.
 */
function leadOf(event: Event, runs: readonly Run[]): Run {
  const ordered = event.destinations.flatMap((d) => runs.find((r) => r.destinationId === d.id) ?? []);
  const lead = ordered.find((r) => r.broadcastId !== null) ?? ordered.find((r) => r.fit && r.fit.feeds.length > 0) ?? ordered[0];
  if (!lead) throw new Error(`event ${event.id} has no run`);
  return lead;
}

export async function loadPlanning(db: Queryable, eventId: string): Promise<EventPlanning> {
  const [row] = await listEvents(db, eventId);
  if (!row) throw noSuchEvent(eventId);
  const event = row.doc;
  const planned: Planned[] = [];
  for (const destination of event.destinations) {
    const run = row.runs.find((r) => r.destinationId === destination.id);
    if (!run) throw new Error(`event ${eventId} has no run for ${destination.id}`);
    const { rows } = await db.query<{ doc: RuleSheet; reach: Reach }>(q("sheet"), [destination.platformId, run.sheetRevision]);
    const [found] = rows;
    if (!found) throw new Error(`the rule sheet of ${destination.id} of event ${eventId} is missing`);
    // What a sheet of an earlier version does not say is filled in.
    planned.push({ destination, run, sheet: ruleSheet.parse(found.doc), reach: found.reach });
  }
  const { rows: encoders } = await db.query<{ doc: Encoder }>(q("encoders"), [event.encoderIds]);
  return {
    event,
    venueName: row.venue_name,
    finishedAt: iso(row.finished_at),
    planned,
    encoders: encoders.map((e) => encoderSchema.parse(e.doc)),
    feeds: (await db.query<NamedFeed>(q("feeds"), [eventId])).rows,
    chosenPlan: row.chosen_plan,
  };
}

export async function loadDossier(db: Queryable, eventId: string): Promise<EventDossier> {
  const planning = await loadPlanning(db, eventId);
  const { event, planned, encoders } = planning;
  const lead = leadOf(
    event,
    planned.map((p) => p.run),
  );
  const one = planned.find((p) => p.run.destinationId === lead.destinationId);
  const mainEncoder = lead.fit?.feeds.find((f) => f.role === "main")?.encoderId ?? event.encoderIds[0];
  const encoder = encoders.find((e) => e.id === mainEncoder);
  if (!one || !encoder) throw new Error(`the encoder of event ${eventId} is missing`);
  return {
    ...planning,
    destination: one.destination,
    run: one.run,
    sheet: one.sheet,
    platformReach: one.reach,
    encoder,
    // A backup feed from another encoder is rigged there by hand.
    feeds: planning.feeds.filter((f) => f.destinationId === lead.destinationId && f.encoderId === encoder.id),
    others: planned.flatMap((p) => (p === one || !p.run.fit ? [] : [p.sheet.platform.name])),
  };
}

interface RunRow {
  event_id: string;
  destination_id: string;
  sheet_revision: number;
  fit: ChosenFit | null;
  broadcast_id: string | null;
  configured_at: Date | null;
  read_back: RigNow["readBack"];
  facts: LineupFacts;
  failover: FailoverState;
  lineup_rtt_ms: Record<string, number>;
}

async function loadRuns(db: Queryable, eventId: string | null): Promise<Run[]> {
  const { rows } = await db.query<RunRow>(q("runs"), [eventId]);
  return rows.map((r) => ({
    eventId: r.event_id,
    destinationId: r.destination_id,
    sheetRevision: r.sheet_revision,
    fit: r.fit,
    broadcastId: r.broadcast_id,
    configuredAt: iso(r.configured_at),
    readBack: r.read_back,
    facts: r.facts,
    failover: r.failover,
    lineupRttMs: r.lineup_rtt_ms,
  }));
}

export interface NewLogLine {
  at: string;
  kind: LogKind;
  level: LogLine["level"];
  feedId: string | null;
  data: LogData;
}

type LogRow = Omit<LogLine, "at"> & { at: Date };
const asLine = (row: LogRow): LogLine => ({ ...row, id: Number(row.id), at: row.at.toISOString() });

/** Appends lines to an event's log and gives them back with their numbers. */
export async function appendLog(db: Queryable, eventId: string, lines: NewLogLine[]): Promise<LogLine[]> {
  if (lines.length === 0) return [];
  return (await db.query<LogRow>(q("insertLog"), [eventId, JSON.stringify(lines)])).rows.map(asLine);
}

export async function readLog(db: Queryable, eventId: string, afterId: number | null): Promise<LogLine[]> {
  return (await db.query<LogRow>(q("log"), [eventId, afterId])).rows.map(asLine);
}
