import type { ChosenFit } from "@ukaza/contract/event";
import { fitChoice } from "@ukaza/contract/fitChoice";
import { Refusal, readAs } from "@ukaza/contract/problem";
import { settingsCsv } from "@ukaza/core/fit/settingsCsv";
import { faultsIn } from "@ukaza/core/rules/check";
import { Router } from "express";
import type { Context } from "../context";
import { queries } from "../db/queries";
import { appendLog, loadDossier } from "../events/store";
import { asDownload } from "../http/download";
import { fitNowOf, saveFeeds, settingsSheetOf } from "./store";

const q = queries(__dirname);

/** The fit problem of an event, and the choice made of it. The sums are the core's; the app runs them in a worker. */
export function fitRouter({ db, hub, now, surveyor }: Context): Router {
  const router = Router();
  router.get("/events/:id/fit", async (request, response) => {
    response.json(await fitNowOf(surveyor, await loadDossier(db, request.params.id)));
  });
  const sheetOf = async (id: string) => settingsSheetOf(db, await loadDossier(db, id));
  router.get("/events/:id/settings-sheet", async (request, response) => void response.json(await sheetOf(request.params.id)));
  router.get("/events/:id/settings-sheet.json", async (request, response) => {
    asDownload(response, `${request.params.id}-settings.json`, await sheetOf(request.params.id));
  });
  router.get("/events/:id/settings-sheet.csv", async (request, response) => {
    const csv = settingsCsv(await sheetOf(request.params.id));
    response.attachment(`${request.params.id}-settings.csv`).type("text/csv").send(csv);
  });
  router.put("/events/:id/fit", async (request, response) => {
    const choice = readAs(fitChoice, request.body, "fit");
    const dossier = await loadDossier(db, request.params.id);
    const { event, sheet, encoder, destination, run } = dossier;
    if (run.facts.sendingAt !== null) {
      throw new Refusal(
        409,
        "already-sending",
        "the encoder is sending with the present settings",
        "Stop sending first; once public the platform keeps the settings until the end.",
      );
    }
    await mustBelong(choice.feeds, event.venueId, event.id, encoder.id);
    const blocking = faultsIn({ settings: choice.settings, sheet, encoder, source: event.source }).filter((f) => f.level === "blocks");
    if (blocking.length > 0 && !choice.despite) {
      throw new Refusal(
        409,
        "findings-block",
        `${blocking.length} of these settings would be refused: ${blocking.map((f) => f.code).join(", ")}`,
        "Mend them, or choose the settings despite the findings.",
        blocking.map((f) => ({ at: f.field, message: f.code })),
      );
    }
    const at = now().toISOString();
    const fit: ChosenFit = { destinationId: destination.id, settings: choice.settings, feeds: choice.feeds, savedAt: at };
    const lines = await db.transaction(async (tx) => {
      await saveFeeds(tx, event.id, fit);
      return appendLog(tx, event.id, [
        { at, kind: "fit-chosen", level: "info", feedId: null, data: { settings: choice.settings, despite: blocking.map((f) => f.code) } },
      ]);
    });
    hub.publish(event.id, { type: "log", lines });
    hub.publish(event.id, { type: "changed", what: ["event", "fit", "rig"] });
    response.json(await fitNowOf(surveyor, await loadDossier(db, event.id)));
  });

  async function mustBelong(feeds: ChosenFit["feeds"], venueId: string, eventId: string, encoderId: string): Promise<void> {
    const { rows } = await db.query<{ id: string }>(q("uplinkOfVenue"), [venueId, eventId]);
    const stray = feeds.find((f) => !rows.some((row) => row.id === f.uplinkId) || f.encoderId !== encoderId);
    const roles = feeds.map((f) => f.role);
    if (stray)
      throw new Refusal(
        422,
        "names-unknown",
        `the ${stray.role} feed names an uplink or encoder that this event does not have`,
        "Choose one of the event's own.",
      );
    if (!roles.includes("main") || new Set(roles).size !== roles.length)
      throw new Refusal(422, "feeds", "a fit has one main feed and at most one backup feed", "Send each role once.");
  }
  return router;
}
