import { createHash } from "node:crypto";
import type { ChosenFit, Event } from "@ukaza/contract/event";
import type { EventPlan } from "@ukaza/contract/eventPlan";
import { type FitProblem, fitDestination } from "@ukaza/contract/fit";
import type { FitNow } from "@ukaza/contract/fitChoice";
import { Refusal } from "@ukaza/contract/problem";
import type { Feed } from "@ukaza/contract/rig";
import { demandsOf, withAsked } from "@ukaza/core/fit/asked";
import { planFrom } from "@ukaza/core/fit/planFrom";
import type { Queryable } from "../db/open";
import { queries } from "../db/queries";
import type { EventPlanning } from "../events/store";
import { encodersOf } from "../kit/store";
import { type Surveyor, scopeOf } from "../survey/store";

const q = queries(__dirname);

/** A feed keeps its id for as long as its event, destination and role stay the same. */
function feedId(eventId: string, destinationId: string, role: string): string {
  return `f-${createHash("sha256").update(`${eventId}/${destinationId}/${role}`).digest("hex").slice(0, 12)}`;
}

/** Saves what was chosen for one destination and makes its feeds; what was configured for another choice counts no more. */
export async function saveFeeds(db: Queryable, eventId: string, fit: ChosenFit): Promise<Feed[]> {
  const { destinationId, settings } = fit;
  await db.query(q("dropFeeds"), [eventId, destinationId, fit.feeds.map((f) => f.role)]);
  const feeds = fit.feeds.map((f) => ({
    ...f,
    id: feedId(eventId, destinationId, f.role),
    destinationId,
    settings,
    targetBps: settings.videoBps + settings.audioBps,
  }));
  for (const f of feeds)
    await db.query(q("saveFeed"), [f.id, eventId, destinationId, f.role, f.encoderId, f.uplinkId, f.targetBps, settings]);
  await db.query(q("saveFit"), [eventId, destinationId, fit]);
  return feeds;
}

/** A destination that the plan leaves out has neither settings nor feeds. */
export async function dropFit(db: Queryable, eventId: string, destinationId: string): Promise<void> {
  await db.query(q("dropFeeds"), [eventId, destinationId, []]);
  await db.query(q("saveFit"), [eventId, destinationId, null]);
}

export async function plansOf(db: Queryable, eventId: string): Promise<EventPlan[]> {
  return (await db.query<{ doc: EventPlan }>(q("plans"), [eventId])).rows.map((row) => row.doc);
}

/** The fit problem of an event as its survey stands now; null: no uplink has a usable rate. */
function problemOf(planning: EventPlanning, surveys: Awaited<ReturnType<Surveyor["survey"]>>["uplinks"]): FitProblem | null {
  const { event, planned, encoders } = planning;
  // The members of a bonded group carry nothing besides the group.
  const inGroups = new Set(surveys.flatMap((s) => (s.result.usableBps === null ? [] : s.uplink.members)));
  const uplinks = surveys.flatMap(({ uplink, result, path }) =>
    result.usableBps === null || inGroups.has(uplink.id)
      ? []
      : [
          {
            id: uplink.id,
            usableBps: result.usableBps,
            ...(path.rttMs === null ? {} : { rttMs: path.rttMs }),
            ...(path.lossRatio === null ? {} : { lossRatio: path.lossRatio }),
          },
        ],
  );
  if (uplinks.length === 0) return null;
  const measured = {
    format: "ukaza-fit-problem" as const,
    version: 1 as const,
    uplinks: uplinks.slice(0, 4),
    encoders,
    destinations: planned.map(({ destination, sheet }) => fitDestination.parse({ id: destination.id, sheet })),
    source: event.source,
    content: event.content,
    allowMaximum: event.allowMaximum,
  };
  return withAsked(measured, demandsOf(event), []);
}

/** An event's planning as it would be with other demands. */
export async function asIf(db: Queryable, planning: EventPlanning, event: Event): Promise<EventPlanning> {
  const kit = await encodersOf(db, null);
  return {
    ...planning,
    event,
    planned: event.destinations.flatMap((d) => {
      const own = planning.planned.find((p) => p.destination.id === d.id);
      return own ? [{ ...own, destination: d }] : [];
    }),
    encoders: event.encoderIds.map((id) => {
      const found = kit.find((e) => e.id === id);
      if (!found) throw new Refusal(422, "names-unknown", `there is no encoder "${id}" in the kit`, "Add it under Kit first.");
      return found;
    }),
  };
}

export async function fitNowOf(db: Queryable, surveyor: Surveyor, planning: EventPlanning): Promise<FitNow> {
  const { event, planned, chosenPlan } = planning;
  const { uplinks: surveys } = await surveyor.survey(scopeOf(event));
  const problem = problemOf(planning, surveys);
  return {
    problem,
    unmeasured: surveys.filter((s) => s.result.usableBps === null).map((s) => s.uplink.name),
    uplinkNames: Object.fromEntries(surveys.map((s) => [s.uplink.id, s.uplink.name])),
    sustainableBps: Object.fromEntries(
      surveys.flatMap((s) => (s.result.sustainableBps === null ? [] : [[s.uplink.id, s.result.sustainableBps]])),
    ),
    metered: Object.fromEntries(surveys.flatMap((s) => (s.uplink.metered ? [[s.uplink.id, s.uplink.metered]] : []))),
    spare: (await encodersOf(db, null)).filter((e) => !event.encoderIds.includes(e.id)),
    chosen: chosenPlan ?? (problem && broughtAlong(planning, problem)),
    plans: await plansOf(db, event.id),
    fixed: planned.some((p) => p.run.facts.sendingAt !== null),
  };
}

/** The plan of an event that came with its fits but no plan: an imported past. */
function broughtAlong({ event, planned }: EventPlanning, problem: FitProblem): EventPlan | null {
  const fits = planned.flatMap((p) => p.run.fit ?? []);
  const [first] = fits;
  if (!first) return null;
  const plan = planFrom(
    problem,
    fits.map((f) => ({ destinationId: f.destinationId, settings: f.settings, feeds: f.feeds, through: null, rungs: [], bound: "others" })),
  );
  return { id: "imported", name: "As imported", savedAt: first.savedAt, demands: demandsOf(event), plan };
}
