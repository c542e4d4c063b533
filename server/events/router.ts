import { Refusal } from "@ukaza/contract/problem";
import type { EventNow } from "@ukaza/contract/event";
import { broadcastStateOf, stagesOf } from "@ukaza/core/lineup/progress";
import { Router } from "express";
import type { Context } from "../context";
import { iso, type ListRow, listEvents, readLog } from "./store";

function now(row: ListRow): EventNow {
  const progress = stagesOf({
    measured: row.measured,
    fitChosen: row.fit_chosen,
    broadcastCreated: row.broadcast_created,
    readBackEqual: row.read_back?.equal ?? null,
    facts: row.facts,
    incidentOpen: row.incident_open && row.facts.endedAt === null,
  });
  return { event: row.doc, venueName: row.venue_name, finishedAt: iso(row.finished_at), ...progress, broadcast: broadcastStateOf(row.facts) };
}

/** The list of events, one event, its log and its stream of what changes. */
export function eventsRouter({ db, hub }: Context): Router {
  const router = Router();
  router.get("/events", async (_request, response) => void response.json((await listEvents(db, null)).map(now)));
  router.get("/events/:id", async (request, response) => {
    const [row] = await listEvents(db, request.params.id);
    if (!row) throw new Refusal(404, "no-such-event", `there is no event "${request.params.id}"`, "GET /api/events lists them.");
    response.json(now(row));
  });
  router.get("/events/:id/log", async (request, response) => void response.json(await readLog(db, request.params.id, null)));
  router.get("/events/:id/stream", hub.handler((params) => params.id ?? ""));
  return router;
}
