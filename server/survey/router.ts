import { Refusal, readAs } from "@ukaza/contract/problem";
import { measurementInput } from "@ukaza/contract/survey";
import { readMeasurements } from "@ukaza/core/formats/measurements";
import express, { Router } from "express";
import { z } from "zod";
import type { Context } from "../context";
import { loadDossier } from "../events/store";
import { addMeasurements, setRemoved, setReserve, surveyOf, timeZoneOf } from "./store";

const noUplink = (id: string) => new Refusal(404, "no-such-uplink", `there is no uplink "${id}"`, "Open the survey again.");
const noMeasurement = (id: string) => new Refusal(404, "no-such-measurement", `there is no measurement "${id}"`, "Open the survey again.");
const reserveBody = z.strictObject({ reserveOverride: z.number().min(0).max(0.9).nullable() });
/** No test is taken in the future; a clock may be a little off. */
const CLOCK_SLACK_MS = 5 * 60_000;

/** Measurements in and out, and what they say. */
export function surveyRouter({ db, now }: Context): Router {
  const router = Router();
  const zoneOf = async (id: string) => {
    const zone = await timeZoneOf(db, id);
    if (zone === null) throw noUplink(id);
    return zone;
  };

  router.get("/events/:id/survey", async (request, response) => {
    const { event } = await loadDossier(db, request.params.id);
    response.json(await surveyOf(db, event, now().toISOString()));
  });
  router.post("/uplinks/:id/measurements", async (request, response) => {
    await zoneOf(request.params.id);
    const measurement = readAs(measurementInput, request.body, "measurement");
    if (Date.parse(measurement.takenAt) > now().getTime() + CLOCK_SLACK_MS) {
      throw new Refusal(422, "in-the-future", "the test's time lies in the future", "Give the time at which it was taken.");
    }
    response.status(201).json({ added: await addMeasurements(db, request.params.id, [measurement]) });
  });
  router.post("/uplinks/:id/measurements/import", express.text({ limit: "20mb", type: "text/plain" }), async (request, response) => {
    const zone = await zoneOf(request.params.id);
    if (typeof request.body !== "string" || request.body.trim() === "")
      throw new Refusal(422, "empty-file", "the file is empty", "Choose a file with measurements.");
    const reading = readMeasurements(request.body, zone);
    if (!reading.ok) {
      const faults = reading.faults.map((f) => ({
        at: [f.line === null ? null : `line ${f.line}`, f.column].filter(Boolean).join(", ") || "the file",
        message: f.message,
      }));
      throw new Refusal(
        422,
        "file-not-read",
        "the file cannot be read; nothing was taken from it",
        "Mend the lines named and choose it again.",
        faults,
      );
    }
    const added = await addMeasurements(db, request.params.id, reading.measurements);
    response.status(201).json({ added, known: reading.measurements.length - added });
  });
  router.delete("/measurements/:id", async (request, response) => {
    if (!(await setRemoved(db, request.params.id, now().toISOString()))) throw noMeasurement(request.params.id);
    response.json({ removed: request.params.id });
  });
  router.post("/measurements/:id/restore", async (request, response) => {
    if (!(await setRemoved(db, request.params.id, null))) throw noMeasurement(request.params.id);
    response.json({ restored: request.params.id });
  });
  router.patch("/uplinks/:id", async (request, response) => {
    const { reserveOverride } = readAs(reserveBody, request.body, "uplink");
    if (!(await setReserve(db, request.params.id, reserveOverride))) throw noUplink(request.params.id);
    response.json({ reserveOverride });
  });
  return router;
}
