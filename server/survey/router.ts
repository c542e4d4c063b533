import { Refusal, readAs } from "@ukaza/contract/problem";
import { exclusion, keysBody, measurementBatch, measurementInput, pageQuery, regionTrip, windowQuery } from "@ukaza/contract/survey";
import { id as idSchema } from "@ukaza/contract/units";
import { measurementsToCsv, measurementsToFile } from "@ukaza/core/formats/measurementsOut";
import { Router } from "express";
import { z } from "zod";
import type { Context } from "../context";
import { loadDossier } from "../events/store";
import { nextShowAt, openEventsAt, uplinkOf, venueOf } from "../venues/store";
import { measurementPages } from "./book";
import { addTrip, type Scope, scopeOf } from "./store";
import { windowOn } from "./window";

const noMeasurement = (id: string) => new Refusal(404, "no-such-measurement", `there is no measurement "${id}"`, "Open the survey again.");
const excludeBody = z.strictObject({ reason: exclusion });
const listQuery = pageQuery.extend({ event: idSchema.optional(), ...windowQuery.shape });
/** No test is taken in the future; a clock may be a little off. */
const CLOCK_SLACK_MS = 5 * 60_000;

/** Measurements in and out, and what they say. */
export function surveyRouter({ db, hub, now, surveyor }: Context): Router {
  const router = Router();
  const { book } = surveyor;
  const tellEvents = async (venueId: string) => {
    for (const id of await openEventsAt(db, venueId)) hub.publish(id, { type: "changed", what: ["event", "survey", "fit"] });
  };
  const notInFuture = (takenAt: string) => {
    if (Date.parse(takenAt) > now().getTime() + CLOCK_SLACK_MS)
      throw new Refusal(422, "in-the-future", "the test's time lies in the future", "Give the time at which it was taken.");
  };
  const eventScope = async (eventId: string, hours: z.infer<typeof windowQuery>): Promise<Scope> => {
    const scope = scopeOf((await loadDossier(db, eventId)).event);
    if (!hours.from && !hours.until) return scope;
    return { ...scope, show: windowOn(Date.parse(scope.show.start), scope.timeZone, hours) };
  };
  const venueScope = async (venueId: string, hours: z.infer<typeof windowQuery>): Promise<Scope> => {
    const { timeZone } = await venueOf(db, venueId);
    const planned = hours.from || hours.until ? null : await nextShowAt(db, venueId);
    return { venueId, eventId: null, timeZone, show: planned ?? windowOn(now().getTime(), timeZone, hours) };
  };

  router.get("/events/:id/survey", async (request, response) => {
    response.json(await surveyor.survey(await eventScope(request.params.id, readAs(windowQuery, request.query, "window"))));
  });
  router.get("/venues/:id/survey", async (request, response) => {
    response.json(await surveyor.survey(await venueScope(request.params.id, readAs(windowQuery, request.query, "window"))));
  });
  router.get("/uplinks/:id/measurements", async (request, response) => {
    const { event, from, until, ...query } = readAs(listQuery, request.query, "list");
    const { uplink, venueId } = await uplinkOf(db, request.params.id);
    const scope = event ? await eventScope(event, { from, until }) : await venueScope(venueId, { from, until });
    response.json(await surveyor.page(uplink, scope, query));
  });
  router.get("/uplinks/:id/measurements/export", async (request, response) => {
    const { uplink } = await uplinkOf(db, request.params.id);
    const asCsv = request.query.as === "csv";
    const all = [];
    for await (const page of measurementPages(db, uplink.id)) all.push(...page);
    all.sort((a, b) => a.takenAt.localeCompare(b.takenAt));
    response.attachment(`${uplink.id}-tests.${asCsv ? "csv" : "json"}`);
    if (asCsv) response.type("text/csv").send(measurementsToCsv(all));
    else response.type("application/json").send(JSON.stringify(measurementsToFile(uplink.name, all)));
  });

  router.post("/uplinks/:id/measurements", async (request, response) => {
    const { uplink, venueId } = await uplinkOf(db, request.params.id);
    const measurement = readAs(measurementInput, request.body, "measurement");
    notInFuture(measurement.takenAt);
    const added = await book.add(uplink.id, [measurement], null);
    await tellEvents(venueId);
    response.status(201).json({ added: added.length });
  });
  router.post("/uplinks/:id/measurements/known", async (request, response) => {
    const { uplink } = await uplinkOf(db, request.params.id);
    response.json({ known: await book.known(uplink.id, readAs(keysBody, request.body, "contents").keys) });
  });
  router.post("/uplinks/:id/measurements/batch", async (request, response) => {
    const { uplink, venueId } = await uplinkOf(db, request.params.id);
    const { measurements, importId, last } = readAs(measurementBatch, request.body, "batch");
    for (const m of measurements) notInFuture(m.takenAt);
    const added = await book.add(uplink.id, measurements, importId);
    if (last) await tellEvents(venueId);
    response.status(201).json({ added: added.length, known: measurements.length - added.length });
  });
  router.delete("/uplinks/:id/imports/:importId", async (request, response) => {
    const { uplink, venueId } = await uplinkOf(db, request.params.id);
    const removed = await book.undo(uplink.id, request.params.importId);
    await tellEvents(venueId);
    response.json({ removed });
  });
  const setExcluded = async (id: string, reason: string | null) => {
    const uplinkId = await book.exclude(id, reason);
    if (uplinkId === null) throw noMeasurement(id);
    await tellEvents((await uplinkOf(db, uplinkId)).venueId);
  };
  router.put("/measurements/:id/excluded", async (request, response) => {
    const { reason } = readAs(excludeBody, request.body, "exclusion");
    await setExcluded(request.params.id, reason);
    response.json({ excluded: reason });
  });
  router.delete("/measurements/:id/excluded", async (request, response) => {
    await setExcluded(request.params.id, null);
    response.json({ excluded: null });
  });
  router.post("/uplinks/:id/regions", async (request, response) => {
    const { uplink, venueId } = await uplinkOf(db, request.params.id);
    const trip = readAs(regionTrip, request.body, "round trip");
    notInFuture(trip.takenAt);
    await addTrip(db, uplink.id, trip);
    await tellEvents(venueId);
    response.status(201).json({ added: 1 });
  });
  return router;
}
