import { type Encoder, encoder, reach } from "@ukaza/contract/encoder";
import { checkIn, checkOut, type KitUse } from "@ukaza/contract/kit";
import { Refusal, readAs } from "@ukaza/contract/problem";
import { claimedSpan, claimsIn, sharedSpan } from "@ukaza/core/rig/bookings";
import { Router } from "express";
import { z } from "zod";
import type { Context } from "../context";
import { appendLog, loadDossier } from "../events/store";
import { asDownload } from "../http/download";
import { bringBack, encoderOf, freshEncoderId, kitItems, kitUses, putAway, saveEncoder, takeOut } from "./store";

const askBody = z.object({ reach, serial: z.string().max(60).default("") });

/** The crew's encoders: what they can do, where they are, and for which event they are out. */
export function kitRouter({ db, drivers, hub, now }: Context): Router {
  const router = Router();
  const at = () => now().toISOString();

  router.get("/kit", async (_request, response) => void response.json(await kitItems(db)));
  router.get("/encoders/:id", async (request, response) => void response.json(await encoderOf(db, request.params.id)));
  router.get("/encoders/:id/export", async (request, response) => {
    const found = await encoderOf(db, request.params.id);
    asDownload(response, `${found.id}.json`, found);
  });
  router.post("/encoders", async (request, response) => {
    const body = readAs(encoder, request.body, "encoder");
    const id = await freshEncoderId(db, body.name);
    await saveEncoder(db, { ...body, id });
    response.status(201).json({ id });
  });
  router.put("/encoders/:id", async (request, response) => {
    const held = await encoderOf(db, request.params.id);
    await saveEncoder(db, { ...readAs(encoder, request.body, "encoder"), id: held.id });
    for (const use of await kitUses(db))
      if (use.encoderId === held.id) hub.publish(use.eventId, { type: "changed", what: ["event", "fit", "rig"] });
    response.json({ id: held.id });
  });
  router.delete("/encoders/:id", async (request, response) => {
    const held = await encoderOf(db, request.params.id);
    await putAway(db, held.id, at());
    response.json({ removed: held.id });
  });
  /** What a device says of itself; nothing is saved. */
  router.post("/encoders/ask", async (request, response) => {
    const { serial, ...asked } = readAs(askBody, request.body, "device");
    response.json(await drivers.encoder({ ...asked, serial } as Encoder).describe());
  });

  const tell = async (eventId: string, kind: "kit-out" | "kit-in", name: string, by: string) => {
    const lines = await appendLog(db, eventId, [{ at: at(), kind, level: "info", feedId: null, data: { encoder: name, text: by } }]);
    hub.publish(eventId, { type: "log", lines });
    hub.publish(eventId, { type: "changed", what: ["event"] });
  };
  router.post("/encoders/:id/check-out", async (request, response) => {
    const { eventId, by, despite } = readAs(checkOut, request.body, "check-out");
    const found = await encoderOf(db, request.params.id);
    const { event, finishedAt } = await loadDossier(db, eventId);
    if (finishedAt) throw new Refusal(409, "event-finished", "this event is over", "Choose an event that is still to come.");
    const uses = await kitUses(db);
    const span = claimedSpan(event.show);
    const [claim] = claimsIn(uses, found.id, span, eventId);
    if (claim && !despite)
      throw new Refusal(409, "double-booking", claimText(found.name, claim, span), "Take another encoder, or take it along despite that.");
    await takeOut(db, found.id, eventId, at(), by);
    await tell(eventId, "kit-out", found.name, by);
    response.status(201).json(await kitItems(db));
  });
  router.post("/encoders/:id/check-in", async (request, response) => {
    const { eventId, by } = readAs(checkIn, request.body, "check-in");
    const found = await encoderOf(db, request.params.id);
    await bringBack(db, found.id, eventId, at(), by);
    await tell(eventId, "kit-in", found.name, by);
    response.json(await kitItems(db));
  });
  return router;
}

function claimText(name: string, claim: KitUse, span: { from: string; until: string }): string {
  return sharedSpan(claim, span)
    ? `${name} is ${claim.out ? "out" : "planned"} for ${claim.eventName} at ${claim.venueName} in the same hours`
    : `${name} has been out since ${claim.eventName} and is not back`;
}
