import type { UplinkSurvey } from "@ukaza/contract/survey";
import type { Uplink } from "@ukaza/contract/venue";
import type { LineModel } from "../survey/lineModel";

/** What tests of some seconds cannot tell of a whole show; rules of thumb, named so on screen. */
export const forecastRules = {
  shows: 2_000,
  /** The level of a show lies off the tests' by this share, divided by the root of their number: few tests know little. */
  levelSpread: 0.3,
  /** Second by second the line wanders around its level: 6 % of it, with a memory of about a minute. */
  wander: { rho: 0.98, sigma: 0.012 },
  /** Outages an hour and how long one lasts, s, by kind of uplink. */
  outages: {
    wired: { perHour: 0.02, lastsS: 30 },
    "wi-fi": { perHour: 0.3, lastsS: 15 },
    cellular: { perHour: 0.3, lastsS: 20 },
    satellite: { perHour: 0.5, lastsS: 10 },
    bonded: { perHour: 0.02, lastsS: 20 },
  } satisfies Record<Uplink["kind"], { perHour: number; lastsS: number }>,
} as const;

/** One way out, or one member of a bonded group, as a forecast sees it. Rates in bit/s at the IP layer. */
export interface ForecastPart {
  /** Levels that tests found, with how many of them. */
  levels: readonly { fromBps: number; toBps: number; tests: number }[];
  outage: LineModel["outage"];
  wander: LineModel["wander"];
  levelSpread: number;
}

export interface ForecastLine {
  id: string;
  parts: readonly ForecastPart[];
  tests: number;
}

function partOf({ uplink, bins, result }: UplinkSurvey): ForecastPart {
  const levels = bins
    .filter((b) => b.counting > 0)
    .map((b) => ({
      fromBps: Math.max(0, b.fromBps - result.reservedBps),
      toBps: Math.max(0, b.toBps - result.reservedBps),
      tests: b.counting,
    }));
  const tests = levels.reduce((sum, l) => sum + l.tests, 0);
  const { perHour, lastsS } = forecastRules.outages[uplink.kind];
  return {
    levels,
    outage: { perSecond: perHour / 3600, endsPerSecond: 1 / lastsS, leftShare: 0 },
    wander: forecastRules.wander,
    levelSpread: tests === 0 ? 0 : forecastRules.levelSpread / Math.sqrt(tests),
  };
}

/** An uplink from its tests near the show; a bonded group without tests of its own from its members. null: there are none. */
export function forecastLine(id: string, surveys: readonly UplinkSurvey[]): ForecastLine | null {
  const own = surveys.find((s) => s.uplink.id === id);
  if (!own) return null;
  const tested = [own].filter((s) => s.bins.some((b) => b.counting > 0));
  const from = tested.length > 0 ? tested : surveys.filter((s) => own.uplink.members.includes(s.uplink.id));
  const parts = from.map(partOf);
  if (parts.length === 0 || parts.some((p) => p.levels.length === 0)) return null;
  return { id, parts, tests: parts.reduce((sum, p) => sum + p.levels.reduce((n, l) => n + l.tests, 0), 0) };
}
