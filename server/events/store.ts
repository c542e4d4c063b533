import type { LogData, LogKind, LogLine } from "@ukaza/contract/air";
import { type Encoder, encoder as encoderSchema, type Reach } from "@ukaza/contract/encoder";
import { type ChosenFit, type Destination, type Event, event as eventSchema } from "@ukaza/contract/event";
import type { LineupFacts } from "@ukaza/contract/lineup";
import { Refusal } from "@ukaza/contract/problem";
import type { Feed, RigNow } from "@ukaza/contract/rig";
import { type RuleSheet, ruleSheet } from "@ukaza/contract/ruleSheet";
import type { FailoverState } from "@ukaza/core/air/failover";
import type { Queryable } from "../db/open";
import { queries } from "../db/queries";

const q = queries(__dirname);

/** One destination's row of `runs`, with its documents read. */
export interface Run {
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

/** Everything a stage needs to know of one event. */
export interface EventDossier {
  event: Event;
  venueName: string;
  finishedAt: string | null;
  destination: Destination;
  run: Run;
  sheet: RuleSheet;
  platformReach: Reach;
  encoder: Encoder;
  feeds: NamedFeed[];
}

export interface ListRow {
  doc: Event;
  finished_at: Date | null;
  venue_name: string;
  facts: LineupFacts;
  fit_chosen: boolean;
  broadcast_created: boolean;
  read_back: RigNow["readBack"];
  incident_open: boolean;
  measured: boolean;
}

export const iso = (date: Date | null): string | null => (date === null ? null : date.toISOString());

export const noSuchEvent = (id: string) => new Refusal(404, "no-such-event", `there is no event "${id}"`, "GET /api/events lists them.");

/** All events, or the one asked for, with what their progress is computed from. */
export async function listEvents(db: Queryable, eventId: string | null): Promise<ListRow[]> {
  const { rows } = await db.query<ListRow>(q("list"), [eventId]);
  // What an event of an earlier version does not say is filled in.
  return rows.map((row) => ({ ...row, doc: eventSchema.parse(row.doc) }));
}

export async function loadDossier(db: Queryable, eventId: string): Promise<EventDossier> {
  const [row] = await listEvents(db, eventId);
  if (!row) throw noSuchEvent(eventId);
  const event = row.doc;
  const [destination] = event.destinations;
  if (!destination) throw new Error("an event has at least one destination");
  const run = await loadRun(db, eventId);
  const { rows: sheets } = await db.query<{ doc: RuleSheet; reach: Reach }>(q("sheet"), [destination.platformId, run.sheetRevision]);
  const { rows: encoders } = await db.query<{ doc: Encoder }>(q("encoder"), [event.encoderId]);
  const { rows: feeds } = await db.query<NamedFeed>(q("feeds"), [eventId]);
  const [sheet] = sheets;
  const [encoder] = encoders;
  if (!sheet || !encoder) throw new Error(`the rule sheet or encoder of event ${eventId} is missing`);
  return {
    event,
    venueName: row.venue_name,
    finishedAt: iso(row.finished_at),
    destination,
    run,
    // What a sheet of an earlier version does not say is filled in.
    sheet: ruleSheet.parse(sheet.doc),
    platformReach: sheet.reach,
    encoder: encoderSchema.parse(encoder.doc),
    feeds,
  };
}

interface RunRow {
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

async function loadRun(db: Queryable, eventId: string): Promise<Run> {
  const { rows } = await db.query<RunRow>(q("run"), [eventId]);
  const [r] = rows;
  if (!r) throw new Error(`event ${eventId} has no run`);
  return {
    destinationId: r.destination_id,
    sheetRevision: r.sheet_revision,
    fit: r.fit,
    broadcastId: r.broadcast_id,
    configuredAt: iso(r.configured_at),
    readBack: r.read_back,
    facts: r.facts,
    failover: r.failover,
    lineupRttMs: r.lineup_rtt_ms,
  };
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
