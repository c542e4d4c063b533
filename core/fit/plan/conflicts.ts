import type { FitDestination, FitProblem } from "@ukaza/contract/fit";
import type { Demand } from "@ukaza/contract/fitPlan";
import { compile } from "./model";
import { Search } from "./search";

/** A search for any answer is given up after so many branches and then counts as possible: better to blame too few than too many. */
const TRIES = 300;

/** Every demand that a problem makes of a destination that must be served. */
function demandsOf(d: FitDestination): Demand[] {
  const destinationId = d.id;
  const fields = Object.keys(d.fixed);
  return [
    { demand: "serve", destinationId },
    ...(d.backup ? [{ demand: "backup" as const, destinationId }] : []),
    ...(d.backup && d.backupFrom === "another encoder" ? [{ demand: "backup-encoder" as const, destinationId }] : []),
    ...(fields.length > 0 ? [{ demand: "fixed" as const, destinationId, fields }] : []),
    ...(d.notOver.length > 0 ? [{ demand: "not-over" as const, destinationId, uplinkIds: d.notOver }] : []),
    ...(d.onlyFrom === null ? [] : [{ demand: "only-from" as const, destinationId, encoderId: d.onlyFrom }]),
    ...(d.through?.only ? [{ demand: "through" as const, destinationId, relayId: d.through.destinationId }] : []),
    ...(d.renditions > 1 ? [{ demand: "renditions" as const, destinationId, count: d.renditions }] : []),
  ];
}

/** A destination with only some of its demands. */
function eased(d: FitDestination, kept: ReadonlySet<Demand["demand"]>): FitDestination {
  return {
    ...d,
    must: kept.has("serve"),
    backup: d.backup && kept.has("backup"),
    backupFrom: kept.has("backup-encoder") ? d.backupFrom : "same encoder",
    fixed: kept.has("fixed") ? d.fixed : {},
    notOver: kept.has("not-over") ? d.notOver : [],
    onlyFrom: kept.has("only-from") ? d.onlyFrom : null,
    through: d.through && { ...d.through, only: d.through.only && kept.has("through") },
    renditions: kept.has("renditions") ? d.renditions : 1,
  };
}

/** Whether some of the demands can hold together. */
function holds(problem: FitProblem, demands: readonly Demand[]): boolean {
  const destinations = problem.destinations
    .map((d) => eased(d, new Set(demands.flatMap((own) => (own.destinationId === d.id ? [own.demand] : [])))))
    .filter((d) => d.must || d.relay);
  const model = compile({ ...problem, destinations });
  const limits = {
    roomBps: problem.uplinks.map((u) => u.usableBps),
    engines: problem.encoders.map((e) => e.engines),
    anyWillDo: true,
    mostNodes: TRIES,
  };
  const { best, proved } = new Search(model, limits).run();
  return best !== null || !proved;
}

function* subsets<T>(all: readonly T[], size: number, from = 0): Generator<T[]> {
  if (size === 0) yield [];
  else for (let i = from; i <= all.length - size; i++) for (const rest of subsets(all, size - 1, i + 1)) yield [all[i] as T, ...rest];
}

/** Up to this size every set is looked at; a larger conflict is only known to need each of its demands. */
const LOOKED_AT = 2;

/**
 * The smallest set of demands that cannot hold together, for a problem that has no answer: the smallest of all up to two,
 * beyond that one from which nothing can be taken away (deletion filter, Chinneck 1991). A demand is only counted beside
 * "serve" of its own destination, which is left unsaid then.
 */
export function conflictOf(problem: FitProblem): Demand[] {
  const musts = problem.destinations.filter((d) => d.must);
  const all = musts.flatMap(demandsOf);
  const withServe = (chosen: readonly Demand[]) => {
    const ids = new Set(chosen.map((c) => c.destinationId));
    return all.filter((d) => chosen.includes(d) || (d.demand === "serve" && ids.has(d.destinationId)));
  };
  for (let size = 1; size <= LOOKED_AT; size++)
    for (const chosen of subsets(all, size)) if (!holds(problem, withServe(chosen))) return told(withServe(chosen));
  let left = all;
  // Whole destinations first, then their single demands.
  for (const d of musts) {
    const without = left.filter((own) => own.destinationId !== d.id);
    if (!holds(problem, without)) left = without;
  }
  for (const own of all.filter((d) => d.demand !== "serve")) {
    const without = left.filter((d) => d !== own);
    if (without.length < left.length && !holds(problem, without)) left = without;
  }
  return told(left);
}

/** "Serve" goes without saying where something else is demanded of the same destination. */
function told(demands: readonly Demand[]): Demand[] {
  return demands.filter((d) => d.demand !== "serve" || !demands.some((o) => o !== d && o.destinationId === d.destinationId));
}
