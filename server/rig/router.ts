import type { LogData, LogKind, LogLine } from "@ukaza/contract/air";
import { Refusal, readAs } from "@ukaza/contract/problem";
import { role } from "@ukaza/contract/rig";
import { noFacts } from "@ukaza/core/lineup/runSheet";
import { compareHeld } from "@ukaza/core/rig/readBack";
import { Router } from "express";
import { z } from "zod";
import type { Context } from "../context";
import { queries } from "../db/queries";
import { appendLog, type EventDossier, loadDossier } from "../events/store";
import { feedOrders, loadIngests, rigNowOf } from "./store";

const q = queries(__dirname);

/** Address and key from the platform into the encoder, and what the encoder then really holds. */
export function rigRouter({ db, drivers, hub, secrets, live, now }: Context): Router {
  const router = Router();

  async function say(eventId: string, kind: LogKind, level: LogLine["level"], data: LogData): Promise<void> {
    const lines = await appendLog(db, eventId, [{ at: now().toISOString(), kind, level, feedId: null, data }]);
    hub.publish(eventId, { type: "log", lines });
    hub.publish(eventId, { type: "changed", what: ["event", "rig", "lineup"] });
  }
  const answer = async (eventId: string) => rigNowOf(db, secrets, await loadDossier(db, eventId));
  const mustRest = (dossier: EventDossier) => {
    const { sendingAt, stoppedAt } = dossier.run.facts;
    if (sendingAt !== null && stoppedAt === null)
      throw new Refusal(409, "already-sending", "the encoder is sending", "Stop sending before changing what it holds.");
    if (stoppedAt !== null)
      throw new Refusal(409, "event-over", "this event has been wrapped up", "Make a new event for another broadcast.");
  };

  router.get("/events/:id/rig", async (request, response) => void response.json(await answer(request.params.id)));

  router.post("/events/:id/rig/broadcast", async (request, response) => {
    const { id } = request.params;
    await live.alone(id, async () => {
      const dossier = await loadDossier(db, id);
      // A phone that sends twice gets the same broadcast twice, unless the platform has forgotten it.
      if (dossier.run.broadcastId !== null && (await stillThere(dossier))) return;
      mustRest(dossier);
      const { destination, event } = dossier;
      const made = await drivers
        .platform(dossier.platformReach)
        .create({ title: destination.title, description: destination.description, access: destination.access });
      await db.transaction(async (tx) => {
        await tx.query(q("saveBroadcast"), [event.id, destination.id, made.id, noFacts]);
        for (const key of made.keys)
          await tx.query(q("saveIngest"), [event.id, destination.id, key.role, key.address, secrets.seal(key.key), now().toISOString()]);
      });
      await say(id, "broadcast-created", "info", { platform: dossier.sheet.platform.name, roles: made.keys.map((k) => k.role) });
    });
    response.status(201).json(await answer(id));
  });

  async function stillThere(dossier: EventDossier): Promise<boolean> {
    try {
      const seen = await drivers.platform(dossier.platformReach).show(dossier.run.broadcastId ?? "");
      return seen.state !== "ended" || dossier.run.facts.endedAt !== null;
    } catch (error) {
      if (error instanceof Refusal && error.problem.type.endsWith("device-refused")) return false;
      throw error;
    }
  }

  router.post("/events/:id/rig/configure", async (request, response) => {
    const { id } = request.params;
    await live.alone(id, async () => {
      const dossier = await loadDossier(db, id);
      mustRest(dossier);
      const orders = await feedOrders(db, secrets, dossier);
      const settings = dossier.run.fit?.settings ?? null;
      const feeds = Object.fromEntries(orders.map(({ feedId, address, key, uplinkId }) => [feedId, { address, key, uplinkId }]));
      await drivers.encoder(dossier.encoder.reach).configure({ engine: { settings }, feeds });
      await say(id, "encoder-configured", "info", { encoder: dossier.encoder.name, roles: orders.map((o) => o.role) });
      await readBack(dossier, true);
    });
    response.json(await answer(id));
  });

  router.post("/events/:id/rig/read-back", async (request, response) => {
    const { id } = request.params;
    await live.alone(id, async () => readBack(await loadDossier(db, id), false));
    response.json(await answer(id));
  });

  async function readBack(dossier: EventDossier, configuredNow: boolean): Promise<void> {
    const orders = await feedOrders(db, secrets, dossier);
    const { fit } = dossier.run;
    if (!fit) throw new Refusal(409, "no-fit", "no settings have been chosen for this event", "Choose a fit first.");
    const held = await drivers.encoder(dossier.encoder.reach).held();
    const fields = compareHeld({ settings: fit.settings, feeds: orders }, held);
    const at = now().toISOString();
    const equal = fields.every((f) => f.equal);
    await db.query(q("saveReadBack"), [
      dossier.event.id,
      dossier.destination.id,
      configuredNow ? at : dossier.run.configuredAt,
      { at, fields, equal },
      equal,
    ]);
    await say(dossier.event.id, "read-back", equal ? "info" : "warn", {
      equal,
      differing: fields.filter((f) => !f.equal).map((f) => `${f.feed} ${f.field}`),
    });
  }

  router.post("/events/:id/rig/reveal", async (request, response) => {
    const { id } = request.params;
    const asked = readAs(z.strictObject({ role }), request.body, "reveal");
    const ingest = (await loadIngests(db, await loadDossier(db, id))).find((i) => i.role === asked.role);
    if (!ingest) throw new Refusal(404, "no-key", `there is no ${asked.role} key yet`, "Create the broadcast first.");
    await say(id, "key-revealed", "warn", { role: asked.role });
    response.set("cache-control", "no-store").json({ key: secrets.open(ingest.keySealed) });
  });
  return router;
}
