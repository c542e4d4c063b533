import type { Boldness } from "@ukaza/core/fit/boldness";
import { chanceBetween, type ForecastResult } from "@ukaza/core/fit/forecast";
import { type ForecastLine, forecastRules } from "@ukaza/core/fit/forecastLine";
import { percent } from "./units";

export const boldnessWord: Record<Boldness, string> = { cautious: "Cautious", balanced: "Balanced", bold: "Bold" };

/** A share in percent that never claims certainty it has not. */
const chance = (share: number): string =>
  share > 0.995 && share < 1 ? "over 99 %" : share > 0 && share < 0.005 ? "under 1 %" : percent(share);

export function chanceText({ held, shows }: ForecastResult): { value: string; between: string } {
  const [low, high] = chanceBetween(held, shows);
  return { value: chance(held / shows), between: `${percent(low)} to ${percent(high)}` };
}

export function troubleText(r: ForecastResult, hasBackup: boolean, lineName: (id: string) => string): string[] {
  const seconds = (sum: number) => `${(sum / r.shows).toFixed(sum / r.shows < 10 ? 1 : 0)} s`;
  const [first] = r.first;
  return [
    `Not steady for ${seconds(r.notSteadyS)} of a show on average.`,
    ...(hasBackup
      ? [`With the main feed alone: ${chance(r.heldAlone / r.shows)}, ${seconds(r.notSteadyAloneS)}.`]
      : ["There is no backup feed to switch to."]),
    first
      ? `Most likely first trouble: ${lineName(first.line)} ${first.kind === "outage" ? "drops out" : "sags below the load"}, in ${percent(first.shows / r.shows)} of shows.`
      : "No trouble in any of these shows.",
  ];
}

/** What a forecast rests on, line by line. */
export function restsOn(lines: readonly ForecastLine[], lineName: (id: string) => string): string[] {
  const { rho, sigma } = forecastRules.wander;
  const wander = percent(sigma / Math.sqrt(1 - rho ** 2));
  return lines.map(({ id, tests, parts }) => {
    // Members of a group are not always of one kind.
    const outages = parts.map(
      ({ outage }) => `${Math.round(outage.perSecond * 360_000) / 100} outages an hour of ${Math.round(1 / outage.endsPerSecond)} s`,
    );
    const members = parts.length > 1 ? ` of its ${parts.length} members` : "";
    const each = parts.length > 1 ? " for each" : "";
    return `${lineName(id)}: ${tests} ${tests === 1 ? "test" : "tests"}${members} near the show's hours. Not measured but assumed${each}: ${[...new Set(outages)].join(", or ")}, and a rate that wanders by ${wander} from second to second.`;
  });
}
