import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import type { RegionTrip } from "@ukaza/contract/survey";

export interface RegionVerdict {
  /** Measured regions, nearest first, by their newest round trip. */
  measured: { id: string; name: string; rttMs: number; takenAt: string }[];
  unmeasured: { id: string; name: string }[];
}

/** Which of a platform's regions is nearest over an uplink. */
export function nearestRegions(sheet: Pick<RuleSheet, "platform" | "regions">, trips: readonly RegionTrip[]): RegionVerdict {
  const newest = new Map<string, RegionTrip>();
  for (const trip of trips) {
    if (trip.platformId !== sheet.platform.id) continue;
    const known = newest.get(trip.regionId);
    if (!known || known.takenAt < trip.takenAt) newest.set(trip.regionId, trip);
  }
  const measured = sheet.regions.flatMap(({ id, name }) => {
    const trip = newest.get(id);
    return trip ? [{ id, name, rttMs: trip.rttMs, takenAt: trip.takenAt }] : [];
  });
  return {
    measured: measured.sort((a, b) => a.rttMs - b.rttMs),
    unmeasured: sheet.regions.filter(({ id }) => !newest.has(id)),
  };
}
