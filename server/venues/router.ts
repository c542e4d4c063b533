import { Refusal, readAs } from "@ukaza/contract/problem";
import { uplinkBody, venueBody } from "@ukaza/contract/venue";
import { Router } from "express";
import { z } from "zod";
import type { Context } from "../context";
import { loadDossier } from "../events/store";
import { freshId, listVenues, openEventsAt, saveUplink, saveVenue, setArchived, setReserve, uplinkOf, uplinksOf, venueOf } from "./store";

const reserveBody = z.strictObject({ reserveOverride: z.number().min(0).max(0.9).nullable() });

/** Venues and their uplinks, which outlast every event. */
export function venuesRouter({ db, hub, now }: Context): Router {
  const router = Router();
  const tellEvents = async (venueId: string) => {
    for (const id of await openEventsAt(db, venueId)) hub.publish(id, { type: "changed", what: ["event", "survey", "fit"] });
  };

  router.get("/venues", async (_request, response) => void response.json(await listVenues(db)));
  router.post("/venues", async (request, response) => {
    const body = readAs(venueBody, request.body, "venue");
    const id = await freshId(db, body.name);
    await saveVenue(db, { id, ...body });
    response.status(201).json({ id });
  });
  router.get("/venues/:id", async (request, response) => {
    const venue = await venueOf(db, request.params.id);
    response.json({ format: "ukaza-venue", version: 1, ...venue, uplinks: await uplinksOf(db, venue.id, null) });
  });
  router.put("/venues/:id", async (request, response) => {
    const venue = await venueOf(db, request.params.id);
    await saveVenue(db, { ...readAs(venueBody, request.body, "venue"), id: venue.id });
    await tellEvents(venue.id);
    response.json({ id: venue.id });
  });

  const addUplink = async (venueId: string, eventId: string | null, body: unknown) => {
    const uplink = readAs(uplinkBody, body, "uplink");
    const id = await freshId(db, uplink.name);
    await saveUplink(db, venueId, null, { ...uplink, id, eventId, reserveOverride: null });
    await tellEvents(venueId);
    return { id };
  };
  router.post("/venues/:id/uplinks", async (request, response) => {
    const venue = await venueOf(db, request.params.id);
    response.status(201).json(await addUplink(venue.id, null, request.body));
  });
  router.post("/events/:id/uplinks", async (request, response) => {
    const { event, finishedAt } = await loadDossier(db, request.params.id);
    if (finishedAt) throw new Refusal(409, "event-finished", "this event is over", "Add the uplink to the venue.");
    response.status(201).json(await addUplink(event.venueId, event.id, request.body));
  });
  router.put("/uplinks/:id", async (request, response) => {
    const { uplink, venueId } = await uplinkOf(db, request.params.id);
    const body = readAs(uplinkBody, request.body, "uplink");
    await saveUplink(db, venueId, null, { ...uplink, ...body });
    await tellEvents(venueId);
    response.json({ id: uplink.id });
  });
  router.patch("/uplinks/:id", async (request, response) => {
    const { reserveOverride } = readAs(reserveBody, request.body, "uplink");
    await setReserve(db, request.params.id, reserveOverride);
    response.json({ reserveOverride });
  });
  router.delete("/uplinks/:id", async (request, response) => {
    const { uplink, venueId } = await uplinkOf(db, request.params.id);
    await setArchived(db, uplink.id, now().toISOString());
    await tellEvents(venueId);
    response.json({ removed: uplink.id });
  });
  router.post("/uplinks/:id/restore", async (request, response) => {
    const { uplink, venueId } = await uplinkOf(db, request.params.id);
    await setArchived(db, uplink.id, null);
    await tellEvents(venueId);
    response.json({ restored: uplink.id });
  });
  return router;
}
