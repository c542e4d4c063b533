import { health } from "@ukaza/contract/air";
import type { Event } from "@ukaza/contract/event";
import type { ImportFile } from "@ukaza/contract/library";
import { Refusal } from "@ukaza/contract/problem";
import type { Venue } from "@ukaza/contract/venue";
import type { EventRecord } from "@ukaza/contract/wrap";
import { onMain } from "@ukaza/core/air/failover";
import { fromSampleRow } from "@ukaza/core/formats/sampleRows";
import { noFacts } from "@ukaza/core/lineup/runSheet";
import type { Db, Queryable } from "../db/open";
import { queries } from "../db/queries";
import { appendLog } from "../events/store";
import { saveFeeds } from "../fit/store";
import { saveEncoder } from "../kit/store";
import { insertIncident, insertSamples, insertSpan, insertVerdict } from "../live/store";
import { putSheet } from "../platforms/store";
import { saveUplink, saveVenue } from "../venues/store";

const events = queries(`${__dirname}/../events`);

/** Takes one validated document whole or not at all. Gives the id of what was taken. */
export function importDocument(db: Db, document: ImportFile, at: string): Promise<string> {
  return db.transaction(async (tx) => {
    switch (document.format) {
      case "ukaza-venue":
        return importVenue(tx, document);
      case "ukaza-platform":
        await putSheet(tx, document.sheet, document.reach, at);
        return document.sheet.platform.id;
      case "ukaza-encoder":
        await saveEncoder(tx, document);
        return document.id;
      case "ukaza-event":
        await importEvent(tx, document, null);
        await appendLog(tx, document.id, [{ at, kind: "event-created", level: "info", feedId: null, data: {} }]);
        return document.id;
      case "ukaza-event-record":
        return importRecord(tx, document);
    }
  });
}

async function importVenue(tx: Queryable, venue: Venue): Promise<string> {
  await saveVenue(tx, venue);
  // A group comes after its members, wherever it stands in the file.
  const placed = venue.uplinks.map((uplink, position) => ({ uplink, position }));
  for (const bonded of [false, true])
    for (const { uplink, position } of placed) if ((uplink.kind === "bonded") === bonded) await saveUplink(tx, venue.id, position, uplink);
  return venue.id;
}

async function importEvent(tx: Queryable, event: Event, finishedAt: string | null): Promise<void> {
  const missing = (what: string, id: string) =>
    new Refusal(422, "names-unknown", `the event names the ${what} "${id}", which is not here`, `Import that ${what} first.`);
  const one = async (text: string, id: string) => (await tx.query<{ revision: number }>(text, [id])).rows[0];
  if (!(await one("select 0 as revision from venues where id = $1", event.venueId))) throw missing("venue", event.venueId);
  for (const encoderId of event.encoderIds)
    if (!(await one("select 0 as revision from encoders where id = $1", encoderId))) throw missing("encoder", encoderId);
  if (await one("select 0 as revision from events where id = $1", event.id))
    throw new Refusal(409, "event-taken", `there is already an event "${event.id}"`, "Give it another id.");
  await tx.query(events("insertEvent"), [event.id, event.show.start, event, finishedAt]);
  for (const destination of event.destinations) {
    const sheet = await one(events("newestSheet"), destination.platformId);
    if (!sheet) throw missing("platform", destination.platformId);
    await tx.query(events("insertRun"), [event.id, destination.id, sheet.revision, noFacts, onMain]);
  }
}

/** A whole event with its past: what an export gave comes back as it was. */
async function importRecord(tx: Queryable, record: EventRecord): Promise<string> {
  const { event, fit, facts } = record;
  await importEvent(tx, event, facts.stoppedAt ?? facts.endedAt);
  const feeds = await saveFeeds(tx, event.id, fit);
  const idOf = (role: string | null) => feeds.find((f) => f.role === role)?.id ?? null;
  await tx.query(events("importRun"), [
    event.id,
    fit.destinationId,
    facts,
    facts.sendingAt,
    { at: facts.sendingAt ?? event.show.start, fields: [], equal: true },
  ]);
  await insertSamples(
    tx,
    record.samples.flatMap((row) => {
      const feedId = idOf(row[0]);
      return feedId === null ? [] : [fromSampleRow(row, feedId)];
    }),
  );
  await appendLog(
    tx,
    event.id,
    record.log.map(({ role, ...line }) => ({ ...line, feedId: idOf(role) })),
  );
  for (const line of record.log.filter((l) => l.kind === "health")) {
    const feedId = idOf(line.role);
    const to = health.safeParse(line.data.to);
    if (feedId && to.success)
      await insertVerdict(tx, {
        feedId,
        health: to.data,
        since: line.at,
        cause: line.data.cause ?? null,
        evidence: line.data.evidence ?? [],
      });
  }
  for (const { kind, at, data } of record.log) {
    if (kind === "switch" && data.decision) await insertSpan(tx, event.id, fit.destinationId, at, data.decision.to);
  }
  for (const [i, incident] of record.incidents.entries()) await insertIncident(tx, event.id, { ...incident, id: `incident-${i + 1}` });
  return event.id;
}
