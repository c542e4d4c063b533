import type { EventPlan } from "@ukaza/contract/eventPlan";
import type { SettingsSheet } from "@ukaza/contract/fitChoice";
import { Refusal } from "@ukaza/contract/problem";
import type { Role } from "@ukaza/contract/rig";
import type { Settings } from "@ukaza/contract/settings";
import { keyframeFrames } from "@ukaza/core/media/frameRate";
import { feedLoad } from "@ukaza/core/media/load";
import type { Queryable } from "../db/open";
import { queries } from "../db/queries";
import type { EventPlanning } from "../events/store";

const q = queries(__dirname);

/** Settings that an encoder runs, with the smaller renditions beside them, and whom they serve. */
interface Engine {
  encoderId: string;
  renditions: Settings[];
  destinationIds: string[];
}

function enginesOf({ planned, chosenPlan }: EventPlanning): Engine[] {
  if (chosenPlan) {
    const { engines, destinations } = chosenPlan.plan;
    return engines.map(({ encoderId, settings, destinationIds }) => {
      const rungs = destinations.find((d) => d.destinationId === destinationIds[0])?.rungs ?? [];
      return { encoderId, renditions: [settings, ...rungs], destinationIds };
    });
  }
  // An imported past has its fits and no plan.
  return planned.flatMap(({ run: { fit } }) =>
    fit
      ? [...new Set(fit.feeds.map((f) => f.encoderId))].map((encoderId) => ({
          encoderId,
          renditions: [fit.settings],
          destinationIds: [fit.destinationId],
        }))
      : [],
  );
}

/** What each encoder of an event is told by the plan that the event goes by; an encoder that does nothing has no sheet. */
export async function settingsSheetsOf(db: Queryable, planning: EventPlanning): Promise<SettingsSheet[]> {
  const { event, venueName, encoders, planned, feeds, chosenPlan } = planning;
  const first = planned.flatMap((p) => p.run.fit ?? [])[0];
  if (!first) throw new Refusal(409, "no-fit", "no settings have been chosen for this event", "Choose a plan first.");
  const { rows: addresses } = await db.query<{ destinationId: string; role: Role; address: string }>(q("addresses"), [event.id]);
  const nameOf = (id: string) => planned.find((p) => p.destination.id === id)?.sheet.platform.name ?? id;
  const engines = enginesOf(planning);
  return encoders.flatMap((encoder): SettingsSheet[] => {
    const own = engines.filter((e) => e.encoderId === encoder.id);
    const recordBps = event.recordBps[encoder.id] ?? null;
    if (own.length === 0 && recordBps === null) return [];
    return [
      {
        format: "ukaza-settings-sheet",
        version: 1,
        event: event.name,
        venue: venueName,
        show: event.show,
        timeZone: event.timeZone,
        encoderId: encoder.id,
        encoder: encoder.name,
        serial: encoder.serial,
        plan: chosenPlan?.name ?? "As imported",
        chosenAt: chosenPlan?.savedAt ?? first.savedAt,
        engines: own.flatMap(({ renditions, destinationIds }) =>
          renditions.map((settings, n) => ({
            settings,
            keyframeFrames: keyframeFrames(settings.keyframeS, settings.frameRate),
            feeds: feeds
              .filter((f) => f.encoderId === encoder.id && destinationIds.includes(f.destinationId))
              .map((f) => ({
                platform: n === 0 ? nameOf(f.destinationId) : `${nameOf(f.destinationId)}, rendition ${n + 1}`,
                role: f.role,
                uplink: f.uplinkName,
                loadBps: loadOf(chosenPlan, f, renditions, n),
                address: addresses.find((a) => a.destinationId === f.destinationId && a.role === f.role)?.address ?? null,
              })),
          })),
        ),
        recordBps,
      },
    ];
  });
}

/**
 * What one rendition of a feed loads its uplink with, bit/s: its part of what the plan counts for the feed, which knows what a
 * lossy path has sent again; without such a plan what it is on a path without loss.
 */
function loadOf(
  chosen: EventPlan | null,
  feed: { destinationId: string; role: Role; settings: Settings },
  renditions: readonly Settings[],
  at: number,
): number {
  const bare = renditions.map((settings) => feedLoad({ ...settings, protocol: feed.settings.protocol }).loadBps);
  const planned = chosen?.plan.destinations.find((d) => d.destinationId === feed.destinationId);
  const wholeBps = planned?.feeds.find((f) => f.role === feed.role)?.loadBps;
  const own = bare[at] as number;
  return Math.ceil(wholeBps === undefined ? own : (wholeBps * own) / bare.reduce((sum, load) => sum + load, 0));
}
