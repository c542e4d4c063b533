import type { EventNow } from "@ukaza/contract/event";
import type { NewerSheet } from "@ukaza/contract/library";
import { Refusal } from "@ukaza/contract/problem";
import { documentDiff } from "@ukaza/core/formats/documentDiff";
import { broadcastStateOf, stagesOf } from "@ukaza/core/lineup/progress";
import { Router } from "express";
import type { Context } from "../context";
import type { Db } from "../db/open";
import { queries } from "../db/queries";
import { newestSheet } from "../platforms/store";
import { appendLog, iso, type ListRow, listEvents, loadPlanning, noSuchEvent, readLog } from "./store";

const q = queries(__dirname);

function eventNow(row: ListRow): EventNow {
  const progress = stagesOf({
    measured: row.measured,
    fitChosen: row.lead.fit !== null,
    broadcastCreated: row.lead.broadcastId !== null,
    readBackEqual: row.lead.readBack?.equal ?? null,
    facts: row.lead.facts,
    incidentOpen: row.incident_open && row.lead.facts.endedAt === null,
  });
  return {
    event: row.doc,
    venueName: row.venue_name,
    finishedAt: iso(row.finished_at),
    ...progress,
    broadcast: broadcastStateOf(row.lead.facts),
  };
}

/** What has changed in the platforms' sheets since the event was planned with them. */
async function newerSheets(db: Db, eventId: string): Promise<NewerSheet[]> {
  const { planned, finishedAt } = await loadPlanning(db, eventId);
  const newer: NewerSheet[] = [];
  for (const { destination, sheet, run } of planned) {
    const { sheet: newest } = await newestSheet(db, destination.platformId);
    if (newest.revision <= sheet.revision || newer.some((n) => n.platformId === destination.platformId)) continue;
    newer.push({
      platformId: destination.platformId,
      platformName: sheet.platform.name,
      planned: sheet.revision,
      newest: newest.revision,
      changes: documentDiff(sheet, newest),
      held: finishedAt !== null ? "event-finished" : run.facts.sendingAt !== null ? "already-sending" : null,
    });
  }
  return newer;
}

/** The list of events, one event, its log and its stream of what changes. */
export function eventsRouter({ db, hub, now }: Context): Router {
  const router = Router();
  const mustExist = async (id: string) => {
    const [row] = await listEvents(db, id);
    if (!row) throw noSuchEvent(id);
    return row;
  };
  router.get("/events", async (_request, response) => void response.json((await listEvents(db, null)).map(eventNow)));
  router.get("/events/:id", async (request, response) => void response.json(eventNow(await mustExist(request.params.id))));
  router.get("/events/:id/log", async (request, response) => {
    await mustExist(request.params.id);
    response.json(await readLog(db, request.params.id, null));
  });
  router.get("/events/:id/sheets", async (request, response) => void response.json(await newerSheets(db, request.params.id)));
  router.post("/events/:id/sheets/:platformId", async (request, response) => {
    const { id, platformId } = request.params;
    const found = (await newerSheets(db, id)).find((s) => s.platformId === platformId);
    if (!found) throw new Refusal(409, "no-newer-sheet", "the event has the newest sheet of this platform", "Nothing is to be done.");
    if (found.held)
      throw new Refusal(
        409,
        found.held,
        "the event is on its way with the sheet it has",
        "It keeps that sheet; plan the next event with the new one.",
      );
    await db.query(q("renewSheet"), [id, platformId, found.newest]);
    const data = { platform: found.platformName, from: String(found.planned), to: String(found.newest) };
    const lines = await appendLog(db, id, [{ at: now().toISOString(), kind: "sheet-renewed", level: "info", feedId: null, data }]);
    hub.publish(id, { type: "log", lines });
    hub.publish(id, { type: "changed", what: ["event", "fit", "rig", "lineup"] });
    response.json(await newerSheets(db, id));
  });
  router.get(
    "/events/:id/stream",
    async (request, _response, next) => {
      await mustExist(String(request.params.id));
      next();
    },
    hub.handler((params) => params.id ?? ""),
  );
  return router;
}
