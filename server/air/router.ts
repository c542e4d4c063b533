import { trouble } from "@ukaza/contract/air";
import { Refusal, readAs } from "@ukaza/contract/problem";
import { role } from "@ukaza/contract/rig";
import { Router } from "express";
import { z } from "zod";
import type { Context } from "../context";
import { appendLog, loadDossier } from "../events/store";
import { readSamples } from "../live/store";

/** The most a chart on the air screen shows, in seconds. */
const SAMPLES_MOST_S = 3_600;

/** The event on air: what is seen now, the last minutes, switching by hand, and the demo's trouble sheet. */
export function airRouter({ db, live, drivers, hub, now }: Context): Router {
  const router = Router();
  router.get("/events/:id/air", async (request, response) => {
    response.json(await live.look(request.params.id, (event, at) => event.now(at, drivers.line !== null)));
  });
  router.get("/events/:id/air/samples", async (request, response) => {
    const seconds = Number(request.query.seconds ?? 300);
    if (!Number.isInteger(seconds) || seconds < 1 || seconds > SAMPLES_MOST_S) {
      throw new Refusal(422, "not-valid", `seconds must be a whole number from 1 to ${SAMPLES_MOST_S}`, "Ask for fewer seconds.");
    }
    await loadDossier(db, request.params.id);
    response.json(await readSamples(db, request.params.id, new Date(now().getTime() - seconds * 1000).toISOString()));
  });
  router.post("/events/:id/air/switch", async (request, response) => {
    const body = readAs(z.strictObject({ to: role }), request.body, "switch");
    response.json(
      await live.order(request.params.id, async (event, at) => {
        await event.switchTo(body.to, at);
        return event.now(at.toISOString(), drivers.line !== null);
      }),
    );
  });

  const line = () => {
    if (!drivers.line)
      throw new Refusal(409, "no-stand-in", "there is no stand-in line to trouble", "The trouble sheet belongs to the demo.");
    return drivers.line;
  };
  router.get("/events/:id/air/trouble", async (request, response) => {
    const { feeds } = await loadDossier(db, request.params.id);
    const used = new Set(feeds.map((f) => f.uplinkId));
    response.json((await line().list()).filter((u) => used.has(u.id)));
  });
  router.post("/events/:id/air/trouble", async (request, response) => {
    const { id } = request.params;
    const body = readAs(trouble, request.body, "trouble");
    const { feeds } = await loadDossier(db, id);
    if (!feeds.some((f) => f.uplinkId === body.uplinkId))
      throw new Refusal(422, "names-unknown", `no feed of this event goes over "${body.uplinkId}"`, "Choose an uplink of this event.");
    const uplink = await line().trouble(body.uplinkId, body.change);
    const lines = await appendLog(db, id, [
      { at: now().toISOString(), kind: "trouble", level: "info", feedId: null, data: { uplinkId: body.uplinkId, change: body.change } },
    ]);
    hub.publish(id, { type: "log", lines });
    response.json(uplink);
  });
  return router;
}
