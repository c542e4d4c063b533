import type { EventNow } from "@ukaza/contract/event";
import { broadcastStateOf, stagesOf } from "@ukaza/core/lineup/progress";
import { Router } from "express";
import type { Context } from "../context";
import { iso, type ListRow, listEvents, noSuchEvent, readLog } from "./store";

function now(row: ListRow): EventNow {
  const progress = stagesOf({
    measured: row.measured,
    fitChosen: row.fit_chosen,
    broadcastCreated: row.broadcast_created,
    readBackEqual: row.read_back?.equal ?? null,
    facts: row.facts,
    incidentOpen: row.incident_open && row.facts.endedAt === null,
  });
  return {
    event: row.doc,
    venueName: row.venue_name,
    finishedAt: iso(row.finished_at),
    ...progress,
    broadcast: broadcastStateOf(row.facts),
  };
}

/** The list of events, one event, its log and its stream of what changes. */
export function eventsRouter({ db, hub }: Context): Router {
  const router = Router();
  const mustExist = async (id: string) => {
    const [row] = await listEvents(db, id);
    if (!row) throw noSuchEvent(id);
    return row;
  };
  router.get("/events", async (_request, response) => void response.json((await listEvents(db, null)).map(now)));
  router.get("/events/:id", async (request, response) => void response.json(now(await mustExist(request.params.id))));
  router.get("/events/:id/log", async (request, response) => {
    await mustExist(request.params.id);
    response.json(await readLog(db, request.params.id, null));
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
