import { Refusal } from "@ukaza/contract/problem";
import type { EventRecord, Report } from "@ukaza/contract/wrap";
import { toSampleRow } from "@ukaza/core/formats/sampleRows";
import { makeReport } from "@ukaza/core/wrap/report";
import { reportCsv } from "@ukaza/core/wrap/reportCsv";
import { Router } from "express";
import type { Context } from "../context";
import { loadDossier, readLog } from "../events/store";
import { EVER, readIncidents, readSamples, readSpans, readVerdicts, sampleStepS } from "../live/store";

/** The report of an event, as the app shows it and as files. */
export function wrapRouter({ db, drivers, now }: Context): Router {
  const router = Router();

  async function reportOf(eventId: string): Promise<Report> {
    const dossier = await loadDossier(db, eventId);
    const verdicts = await readVerdicts(db, eventId);
    return makeReport({
      event: dossier.event,
      venueName: dossier.venueName,
      standins: drivers.line !== null,
      facts: dossier.run.facts,
      feeds: dossier.feeds,
      samples: await readSamples(db, eventId, EVER),
      sampleStepS: await sampleStepS(db, eventId),
      health: verdicts.map((v) => ({ feedId: v.feedId, at: v.since, health: v.health })),
      active: await readSpans(db, eventId),
      incidents: await readIncidents(db, eventId),
      log: await readLog(db, eventId, null),
      now: now().toISOString(),
    });
  }

  router.get("/events/:id/report", async (request, response) => void response.json(await reportOf(request.params.id)));
  router.get("/events/:id/report.json", async (request, response) => {
    response.attachment(`${request.params.id}-report.json`).json(await reportOf(request.params.id));
  });
  router.get("/events/:id/report.csv", async (request, response) => {
    response
      .attachment(`${request.params.id}-report.csv`)
      .type("text/csv")
      .send(reportCsv(await reportOf(request.params.id)));
  });
  router.get("/events/:id/record.json", async (request, response) => {
    const { id } = request.params;
    const { event, run, feeds } = await loadDossier(db, id);
    if (!run.fit) throw new Refusal(409, "no-fit", "this event has no past to write down yet", "Choose a fit first.");
    const roleOf = (feedId: string | null) => feeds.find((f) => f.id === feedId)?.role ?? null;
    const record: EventRecord = {
      format: "ukaza-event-record",
      version: 1,
      event,
      fit: run.fit,
      facts: run.facts,
      samples: (await readSamples(db, id, EVER)).map((sample) => toSampleRow(roleOf(sample.feedId) ?? "main", sample)),
      log: (await readLog(db, id, null)).map(({ id: _number, feedId, ...line }) => ({ ...line, role: roleOf(feedId) })),
      incidents: (await readIncidents(db, id)).map(({ id: _id, ...incident }) => incident),
    };
    response.attachment(`${id}-record.json`).json(record);
  });
  return router;
}
