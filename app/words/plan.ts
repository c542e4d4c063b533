import type { FitProblem } from "@ukaza/contract/fit";
import type { Demand, FitReport, Insights, PlanDestination, PlanLimit, WholeAnswer, WholePlan } from "@ukaza/contract/fitPlan";
import type { Settings } from "@ukaza/contract/settings";
import type { FieldDifference } from "@ukaza/core/fit/comparePlans";
import type { PlanRow } from "@ukaza/core/fit/planSteps";
import { fieldWord, valueText } from "./findings";
import { planTitle } from "./fit";
import { rateText } from "./units";

/** What things of a problem are called; an uplink only has the name that is known where it is asked. */
export interface Names {
  destination: (id: string) => string;
  encoder: (id: string) => string;
  uplink: (id: string) => string;
}

export function namesOf(problem: FitProblem, uplinkNames: Record<string, string> = {}): Names {
  const platforms = problem.destinations.map((d) => d.sheet.platform.name);
  return {
    destination: (id) => {
      const d = problem.destinations.find((one) => one.id === id);
      const name = d?.sheet.platform.name ?? id;
      // Two of one platform are told apart by their own names.
      return platforms.filter((p) => p === name).length > 1 ? `${name} (${id})` : name;
    },
    encoder: (id) => problem.encoders.find((e) => e.id === id)?.name ?? id,
    uplink: (id) => uplinkNames[id] ?? id,
  };
}

export const planLimitSentence: Record<PlanLimit, string> = {
  uplink: "The line ends it here.",
  "backup-uplink": "The backup's uplink ends it here.",
  sheet: "The platform's recommended bitrate is reached.",
  encoder: "The encoder ends the bitrate here.",
  source: "The camera gives no more than this.",
  level: "The highest codec level is reached.",
  shared: "It shares an engine with a destination that takes no more.",
  engines: "The encoders have no engine, pixel rate or feed left for more.",
  others: "What it would take from the others is worth more.",
};

/** Which way a destination is served: from where, over what, with what beside it. */
export function waySentence(d: PlanDestination, names: Names): string {
  const [main, backup] = d.feeds;
  const way = d.through
    ? `through ${names.destination(d.through)}`
    : main
      ? `from ${names.encoder(main.encoderId)} over ${names.uplink(main.uplinkId)}`
      : "";
  const second = backup
    ? `, backup ${backup.encoderId === main?.encoderId ? "" : `from ${names.encoder(backup.encoderId)} `}over ${names.uplink(backup.uplinkId)}`
    : "";
  const rungs =
    d.rungs.length > 0 ? `, with ${d.rungs.map((r) => `${planTitle(r)} at ${rateText(r.videoBps)}`).join(" and ")} beside it` : "";
  const text = `${way}${second}${rungs}.`;
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/** One destination of a plan in one sentence, and why it is no better in another. */
export function destinationSentence(d: PlanDestination, names: Names, bound: PlanLimit = d.bound): string {
  const name = names.destination(d.destinationId);
  if (!d.settings) return `${name}: not served. ${planLimitSentence[bound]}`;
  return `${name}: ${planTitle(d.settings)} at ${rateText(d.settings.videoBps)}. ${waySentence(d, names)} ${planLimitSentence[bound]}`;
}

/** What a plan serves, in one sentence. */
export function servedSentence({ destinations, uplinks }: WholePlan): string {
  const served = destinations.filter((d) => d.settings);
  const loadBps = uplinks.reduce((sum, u) => sum + u.loadBps, 0);
  const [only] = served;
  const what =
    destinations.length === 1 && only?.settings
      ? `${planTitle(only.settings)} at ${rateText(only.settings.videoBps)}`
      : `${served.length} of ${destinations.length} served`;
  return `${what}, ${rateText(loadBps)} in all.`;
}

export const certificateSentence = ({ points: own, boundPoints, proved }: (WholeAnswer & { kind: "fit" })["certificate"]): string =>
  proved
    ? `${points(own)} points; no plan has more.`
    : `${points(own)} points; the search was stopped, and none has more than ${points(boundPoints)}.`;

const served = (yes: unknown): string => (yes ? "served" : "not served");

/** A field in which two plans differ, with both values in words. */
export function differenceText({ destinationId, field, a, b }: FieldDifference, names: Names): { what: string; a: string; b: string } {
  const way = (value: unknown): string => {
    if (typeof value !== "string") return "none";
    const [encoder = "", uplink = ""] = value.split(" ");
    return `${names.encoder(encoder)} over ${names.uplink(uplink)}`;
  };
  const word: Record<Exclude<FieldDifference["field"], keyof Settings>, [string, (value: unknown) => string]> = {
    served: ["Served", served],
    main: ["Main feed", way],
    backup: ["Backup feed", way],
    through: ["Relay", (value) => (typeof value === "string" ? names.destination(value) : "none")],
    renditions: ["Renditions", String],
  };
  const [what, show] =
    field in word
      ? word[field as keyof typeof word]
      : [fieldWord[field as keyof Settings], (v: unknown) => valueText(field as keyof Settings, v)];
  return { what: `${names.destination(destinationId)}: ${what.toLowerCase()}`, a: show(a), b: show(b) };
}

/** A row of step-downs: the rates for which it holds, and what is changed over to. */
export function stepRowText({ top, bottom }: PlanRow, above: PlanRow | null, names: Names): { rate: string; what: string[] } {
  const changed = top.plan.destinations.flatMap((d) => {
    const before = above?.bottom.plan.destinations.find((o) => o.destinationId === d.destinationId);
    const title = d.settings ? planTitle(d.settings) : "not served";
    const beforeTitle = before?.settings ? planTitle(before.settings) : "not served";
    const rerouted = before && d.settings && before.settings && waySentence(before, names) !== waySentence(d, names);
    if (before && title === beforeTitle && !rerouted) return [];
    return [`${names.destination(d.destinationId)}: ${title}${rerouted ? `, ${lower(waySentence(d, names))}` : ""}`];
  });
  const from = above ? `below ${rateText(above.bottom.fromBps)} ` : "";
  return { rate: `${from}down to ${rateText(bottom.fromBps)}`, what: changed };
}

const lower = (text: string): string => text.charAt(0).toLowerCase() + text.slice(1).replace(/\.$/, "");

const points = (value: number): string => value.toFixed(1);

export function demandSentence(d: Demand, names: Names): string {
  const name = names.destination(d.destinationId);
  const words: Record<Demand["demand"], string> = {
    serve: `${name} must be served`,
    backup: `${name} is to have a backup feed`,
    "backup-encoder": `${name}'s backup is to come from another encoder`,
    fixed: `${name} is to stay as it was set${d.demand === "fixed" ? ` (${d.fields.join(", ")})` : ""}`,
    "not-over": `${name} is not to go over ${d.demand === "not-over" ? d.uplinkIds.map(names.uplink).join(" or ") : ""}`,
    "only-from": `${name} is to come from ${d.demand === "only-from" ? names.encoder(d.encoderId) : ""}`,
    through: `${name} is to go through ${d.demand === "through" ? names.destination(d.relayId) : ""} only`,
    renditions: `${name} is to have ${d.demand === "renditions" ? d.count : ""} renditions`,
  };
  return words[d.demand];
}

/** What more or less of something would be worth, where it is worth naming. */
export function insightSentences(i: Insights, names: Names): string[] {
  const worth = (value: number) => value >= 0.05;
  return [
    ...i.oneMoreMbps.map(
      ({ uplinkId, points: p }) => `One more Mb/s on ${names.uplink(uplinkId)} would add ${worth(p) ? points(p) : "nothing"}.`,
    ),
    ...i.oneMoreEngine.flatMap(({ encoderId, points: p }) =>
      worth(p) ? [`One more engine in ${names.encoder(encoderId)} would add ${points(p)}.`] : [],
    ),
    ...i.dropping.flatMap(({ destinationId, points: p }) =>
      p !== null && worth(p) ? [`Without ${names.destination(destinationId)} the others would gain ${points(p)}.`] : [],
    ),
  ];
}

export function runnerUpSentence({ plan, differs }: Insights["runnersUp"][number], names: Names): string {
  const changes = differs.map((id) => {
    const settings = plan.destinations.find((d) => d.destinationId === id)?.settings;
    return `${names.destination(id)} ${settings ? `at ${planTitle(settings)}` : "left out"}`;
  });
  return `Another way: ${changes.join(", ")}; ${points(plan.points)} points.`;
}

export const insightsUnproved = "Some of these searches were stopped before they were done: something may be worth more than is said here.";

/** A whole answer to be read out. */
export function explained(problem: FitProblem, { answer, insights }: FitReport): string {
  const names = namesOf(problem);
  if (answer.kind === "none") {
    if (answer.conflict.length === 0) return "No plan was found before the search was stopped.";
    return ["These demands cannot hold together:", ...answer.conflict.map((d) => `- ${demandSentence(d, names)}`)].join("\n");
  }
  const { plan, certificate } = answer;
  const bounds = new Map(insights?.bounds.map((b) => [b.destinationId, b.bound]));
  return [
    ...plan.destinations.map((d) => destinationSentence(d, names, bounds.get(d.destinationId))),
    ...plan.uplinks.map((u) => `${names.uplink(u.uplinkId)}: ${rateText(u.loadBps)} of ${rateText(u.usableBps)} usable.`),
    certificateSentence(certificate),
    ...(insights ? [...insightSentences(insights, names), ...insights.runnersUp.map((r) => runnerUpSentence(r, names))] : []),
    ...(insights?.proved === false ? [insightsUnproved] : []),
  ].join("\n");
}
