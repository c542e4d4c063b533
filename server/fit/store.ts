import { createHash } from "node:crypto";
import type { ChosenFit } from "@ukaza/contract/event";
import { fitDestination } from "@ukaza/contract/fit";
import type { FitNow, SettingsSheet } from "@ukaza/contract/fitChoice";
import { Refusal } from "@ukaza/contract/problem";
import type { Feed } from "@ukaza/contract/rig";
import { keyframeFrames } from "@ukaza/core/media/frameRate";
import { feedLoad } from "@ukaza/core/media/load";
import type { Queryable } from "../db/open";
import { queries } from "../db/queries";
import type { EventDossier } from "../events/store";
import { loadIngests } from "../rig/store";
import { type Surveyor, scopeOf } from "../survey/store";

const q = queries(__dirname);

/** A feed keeps its id for as long as its event, destination and role stay the same. */
function feedId(eventId: string, destinationId: string, role: string): string {
  return `f-${createHash("sha256").update(`${eventId}/${destinationId}/${role}`).digest("hex").slice(0, 12)}`;
}

/** Saves a chosen fit and makes its feeds; what was configured for another fit counts no more. */
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

/** The fit problem of an event as its survey stands now. */
export async function fitNowOf(surveyor: Surveyor, dossier: EventDossier): Promise<FitNow> {
  const { event, destination, sheet, encoder, run } = dossier;
  const { uplinks: surveys } = await surveyor.survey(scopeOf(event));
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
  return {
    problem:
      uplinks.length === 0
        ? null
        : {
            format: "ukaza-fit-problem",
            version: 1,
            uplinks,
            encoders: [encoder],
            destinations: [
              fitDestination.parse({
                id: destination.id,
                sheet,
                weight: destination.weight,
                must: destination.must,
                backup: destination.backup,
              }),
            ],
            source: event.source,
            content: event.content,
            allowMaximum: false,
          },
    unmeasured: surveys.filter((s) => s.result.usableBps === null).map((s) => s.uplink.name),
    uplinkNames: Object.fromEntries(surveys.map((s) => [s.uplink.id, s.uplink.name])),
    sustainableBps: Object.fromEntries(
      surveys.flatMap((s) => (s.result.sustainableBps === null ? [] : [[s.uplink.id, s.result.sustainableBps]])),
    ),
    metered: Object.fromEntries(surveys.flatMap((s) => (s.uplink.metered ? [[s.uplink.id, s.uplink.metered]] : []))),
    chosen: run.fit,
    fixed: run.facts.sendingAt !== null,
  };
}

/** What the encoder of an event is told, as it was chosen. */
export async function settingsSheetOf(db: Queryable, dossier: EventDossier): Promise<SettingsSheet> {
  const { event, venueName, encoder, sheet, run, feeds } = dossier;
  if (!run.fit) throw new Refusal(409, "no-fit", "no settings have been chosen for this event", "Choose a fit first.");
  const { settings, savedAt } = run.fit;
  const ingests = await loadIngests(db, dossier);
  return {
    format: "ukaza-settings-sheet",
    version: 1,
    event: event.name,
    venue: venueName,
    show: event.show,
    timeZone: event.timeZone,
    platform: sheet.platform.name,
    encoder: encoder.name,
    serial: encoder.serial,
    chosenAt: savedAt,
    settings,
    keyframeFrames: keyframeFrames(settings.keyframeS, settings.frameRate),
    feeds: feeds.map((f) => ({
      role: f.role,
      uplink: f.uplinkName,
      loadBps: feedLoad(settings).loadBps,
      address: ingests.find((i) => i.role === f.role)?.address ?? null,
    })),
  };
}
