import { randomUUID } from "node:crypto";
import { type Event, event as eventSchema } from "@ukaza/contract/event";
import { type EventDemands, type EventPlan, eventDemands, type PlanChoice, planChoice } from "@ukaza/contract/eventPlan";
import { fitProblem } from "@ukaza/contract/fit";
import { Refusal, readAs } from "@ukaza/contract/problem";
import { demandsOf } from "@ukaza/core/fit/asked";
import { asReceived, planFrom } from "@ukaza/core/fit/planFrom";
import { settingsCsv } from "@ukaza/core/fit/settingsCsv";
import { faultsIn } from "@ukaza/core/rules/check";
import { Router } from "express";
import type { Context } from "../context";
import { queries } from "../db/queries";
import { appendLog, type EventPlanning, loadPlanning } from "../events/store";
import { asDownload } from "../http/download";
import { settingsSheetsOf } from "./sheets";
import { asIf, dropFit, fitNowOf, plansOf, saveFeeds } from "./store";

const q = queries(__dirname);

/** Plans that an event keeps at most: enough to compare, few enough to read. */
const MOST_PLANS = 20;

/** The fit problem of an event, its demands and its plans. The sums are the core's; the app runs them in a worker. */
export function fitRouter({ db, hub, now, surveyor }: Context): Router {
  const router = Router();
  const answer = async (id: string) => fitNowOf(db, surveyor, await loadPlanning(db, id));
  router.get("/events/:id/fit", async (request, response) => void response.json(await answer(request.params.id)));

  const sheetsOf = async (id: string) => settingsSheetsOf(db, await loadPlanning(db, id));
  router.get("/events/:id/settings-sheets", async (request, response) => void response.json(await sheetsOf(request.params.id)));
  const sheetOf = async (id: string, encoderId: string) => {
    const sheet = (await sheetsOf(id)).find((s) => s.encoderId === encoderId);
    if (!sheet) throw new Refusal(404, "no-sheet", `"${encoderId}" does nothing in this event's plan`, "See the event's settings sheets.");
    return sheet;
  };
  router.get("/events/:id/settings-sheets/:encoder.json", async (request, response) => {
    const { id, encoder } = request.params;
    asDownload(response, `${id}-${encoder}-settings.json`, await sheetOf(id, encoder));
  });
  router.get("/events/:id/settings-sheets/:encoder.csv", async (request, response) => {
    const { id, encoder } = request.params;
    const csv = settingsCsv(await sheetOf(id, encoder));
    response.attachment(`${id}-${encoder}-settings.csv`).type("text/csv").send(csv);
  });

  router.put("/events/:id/demands", async (request, response) => {
    const { id } = request.params;
    const asked = readAs(eventDemands, request.body, "demands");
    const planning = await loadPlanning(db, id);
    mustRest(planning);
    const event = withDemands(planning.event, asked);
    // What the parts of a problem say of each other is checked where the command line checks it.
    const { problem } = await fitNowOf(db, surveyor, await asIf(db, planning, event));
    if (problem) readAs(fitProblem, problem, "demands");
    await db.query(q("saveEvent"), [id, event]);
    hub.publish(id, { type: "changed", what: ["event", "fit"] });
    response.json(await answer(id));
  });

  router.post("/events/:id/plans", async (request, response) => {
    const { id } = request.params;
    const plan = await planOf(await loadPlanning(db, id), readAs(planChoice, request.body, "plan"));
    if ((await plansOf(db, id)).length >= MOST_PLANS)
      throw new Refusal(409, "plans-full", `${MOST_PLANS} plans are kept already`, "Throw away one that is no longer wanted.");
    await db.query(q("savePlan"), [plan.id, id, plan.savedAt, plan]);
    hub.publish(id, { type: "changed", what: ["fit"] });
    response.status(201).json(await answer(id));
  });
  router.patch("/events/:id/plans/:plan", async (request, response) => {
    const { id, plan } = request.params;
    const { name } = readAs(planChoice.pick({ name: true }), request.body, "plan");
    await mustChange(await db.query(q("renamePlan"), [id, plan, name]), plan);
    hub.publish(id, { type: "changed", what: ["fit"] });
    response.json(await answer(id));
  });
  router.delete("/events/:id/plans/:plan", async (request, response) => {
    const { id, plan } = request.params;
    await mustChange(await db.query(q("dropPlan"), [id, plan]), plan);
    hub.publish(id, { type: "changed", what: ["fit"] });
    response.json(await answer(id));
  });

  /** The event goes by this plan from now on. */
  router.put("/events/:id/fit", async (request, response) => {
    const { id } = request.params;
    const choice = readAs(planChoice, request.body, "plan");
    const planning = await loadPlanning(db, id);
    mustRest(planning);
    const despite = findingsAgainst(planning, choice);
    const plan = await planOf(planning, choice);
    const at = plan.savedAt;
    const lines = await db.transaction(async (tx) => {
      await tx.query(q("savePlanOfEvent"), [id, plan]);
      for (const { destination } of planning.planned) {
        const d = choice.destinations.find((one) => one.destinationId === destination.id);
        if (d?.settings) await saveFeeds(tx, id, { destinationId: destination.id, settings: d.settings, feeds: d.feeds, savedAt: at });
        else await dropFit(tx, id, destination.id);
      }
      const served = choice.destinations.flatMap((d) => (d.settings ? [d.settings] : []));
      return appendLog(tx, id, [
        {
          at,
          kind: "fit-chosen",
          level: "info",
          feedId: null,
          data: { text: plan.name, ...(served[0] ? { settings: served[0] } : {}), despite },
        },
      ]);
    });
    hub.publish(id, { type: "log", lines });
    hub.publish(id, { type: "changed", what: ["event", "fit", "rig"] });
    response.json(await answer(id));
  });

  /** Works out what a choice amounts to. Names that the event does not have are refused. */
  async function planOf(planning: EventPlanning, choice: PlanChoice): Promise<EventPlan> {
    await mustBelong(planning, choice);
    const { problem } = await fitNowOf(db, surveyor, planning);
    if (!problem) throw new Refusal(409, "unmeasured", "no uplink of this event has a usable rate yet", "Measure one in Survey first.");
    return {
      id: randomUUID(),
      name: choice.name.trim(),
      savedAt: now().toISOString(),
      demands: demandsOf(planning.event),
      plan: planFrom(problem, choice.destinations),
    };
  }

  async function mustBelong({ event }: EventPlanning, { destinations }: PlanChoice): Promise<void> {
    const { rows } = await db.query<{ id: string }>(q("uplinkOfVenue"), [event.venueId, event.id]);
    const known = new Set(rows.map((row) => row.id));
    const ids = destinations.map((d) => d.destinationId);
    const foreign = ids.find((id) => !event.destinations.some((d) => d.id === id));
    if (foreign !== undefined || new Set(ids).size !== ids.length)
      throw new Refusal(422, "names-unknown", `the plan names "${foreign ?? "a destination twice"}"`, "Name each of the event's own once.");
    for (const { destinationId, settings, feeds, through } of destinations) {
      const stray = feeds.find((f) => !known.has(f.uplinkId) || !event.encoderIds.includes(f.encoderId));
      if (stray)
        throw new Refusal(
          422,
          "names-unknown",
          `the ${stray.role} feed of "${destinationId}" names an uplink or encoder that this event does not have`,
          "Choose one of the event's own.",
        );
      const roles = feeds.map((f) => f.role);
      const passed = through !== null && destinations.some((d) => d.destinationId === through && d.settings);
      if (settings && !passed && (!roles.includes("main") || new Set(roles).size !== roles.length))
        throw new Refusal(
          422,
          "feeds",
          `"${destinationId}" needs one main feed, with at most one backup feed, or a relay of the plan that passes one on`,
          "Send each role once.",
        );
    }
    if (!destinations.some((d) => d.settings))
      throw new Refusal(422, "plan-empty", "the plan serves no destination", "Give at least one its settings.");
  }

  async function mustChange({ affectedRows }: { affectedRows?: number }, plan: string): Promise<void> {
    if (!affectedRows) throw new Refusal(404, "no-such-plan", `there is no plan "${plan}" of this event`, "See the plans of the event.");
  }
  return router;
}

function mustRest({ planned }: EventPlanning): void {
  if (planned.every((p) => p.run.facts.sendingAt === null)) return;
  throw new Refusal(
    409,
    "already-sending",
    "an encoder is sending with the present settings",
    "Stop sending first; once public the platform keeps the settings until the end.",
  );
}

/** The event with other demands. Every destination is named once: their order is what they weigh. */
function withDemands(event: Event, asked: EventDemands): Event {
  const destinations = asked.destinations.flatMap((own) => {
    const destination = event.destinations.find((d) => d.id === own.id);
    return destination ? [{ ...destination, ...own }] : [];
  });
  if (destinations.length !== event.destinations.length || asked.destinations.length !== event.destinations.length)
    throw new Refusal(
      422,
      "destinations",
      "the demands do not name every destination of the event once",
      `Name ${event.destinations.map((d) => d.id).join(", ")}.`,
    );
  return readAs(eventSchema, { ...event, ...asked, destinations }, "demands");
}

/** Codes of the findings that block, over all destinations; refused unless they are wanted despite it. */
function findingsAgainst({ event, planned, encoders }: EventPlanning, { destinations, despite }: PlanChoice): string[] {
  const blocking = destinations.flatMap(({ destinationId, settings: own, feeds, through }) => {
    const sheet = planned.find((p) => p.destination.id === destinationId)?.sheet;
    const encoder = encoders.find((e) => e.id === feeds[0]?.encoderId);
    if (!own || !sheet) return [];
    const settings = asReceived(own, sheet, through);
    const faults = faultsIn({ settings, sheet, source: event.source, ...(encoder ? { encoder } : {}) });
    return faults.filter((f) => f.level === "blocks").map((f) => ({ at: `${destinationId}.${f.field}`, message: f.code }));
  });
  if (blocking.length > 0 && !despite)
    throw new Refusal(
      409,
      "findings-block",
      `${blocking.length} of these settings would be refused: ${blocking.map((f) => f.message).join(", ")}`,
      "Mend them, or choose the plan despite the findings.",
      blocking,
    );
  return blocking.map((f) => f.message);
}
