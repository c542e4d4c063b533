import type { Encoder } from "@ukaza/contract/encoder";
import type { FitDestination, FitProblem } from "@ukaza/contract/fit";
import type { Protocol } from "@ukaza/contract/settings";
import { commonProtocols } from "../../rules/abilities";
import { Makes } from "./makes";
import { Pictures, type Terms, termsOf } from "./terms";
import { withoutIdle } from "./tried";

/** Where a destination's feeds go: one uplink, or two for main and backup (the same one twice where there is no other). */
export type Route = readonly number[];

/** Encoders that a destination's feeds come from: one, or two where the backup comes from another. */
export type Encoders = readonly number[];

/** A destination as the search sees it. Indexes stand for ids. */
export interface Taker {
  index: number;
  given: FitDestination;
  /** Points are counted with this; 0 for a relay. */
  weight: number;
  terms: readonly Terms[];
  /** Encoders that its feeds may come from, one entry for each way. */
  encoders: readonly Encoders[];
  routes: readonly Route[];
  /** Protocols by the encoders they come from, in the order of `encoders`. */
  protocols: readonly (readonly Protocol[])[];
  relay: number | null;
  relayOnly: boolean;
  ladder: boolean;
}

/** A problem made ready for solving; it may be solved again and again with other limits. */
export interface Model {
  problem: FitProblem;
  takers: readonly Taker[];
  makes: Makes;
  /** Encoders that can do the same have the same number: only one of them needs trying while both are untouched. */
  alike: readonly number[];
}

/** Everything an encoder can do, without who it is. */
function abilityKey(e: Encoder, problem: FitProblem): string {
  const { id, name, serial, note, reach, setBy, presets, recordings, network, inputs, ...ability } = e;
  // One that somebody asked for by name is like no other.
  const named = problem.destinations.some((d) => d.onlyFrom === e.id) ? e.id : "";
  return JSON.stringify([ability, named]);
}

function routesFor(d: FitDestination, problem: FitProblem): Route[] {
  const allowed = problem.uplinks.flatMap((u, i) => (d.notOver.includes(u.id) ? [] : [i]));
  if (!d.backup) return allowed.map((u) => [u]);
  const [only] = allowed;
  if (allowed.length === 1 && only !== undefined) return [[only, only]];
  return allowed.flatMap((main, i) => allowed.slice(i + 1).map((backup) => [main, backup]));
}

function encodersFor(d: FitDestination, problem: FitProblem): Encoders[] {
  const all = problem.encoders.map((_, i) => i);
  const main = all.filter((e) => d.onlyFrom === null || problem.encoders[e]?.id === d.onlyFrom);
  if (!d.backup || d.backupFrom === "same encoder") return main.map((e) => [e]);
  return main.flatMap((e) => all.filter((other) => (d.onlyFrom === null ? other > e : other !== e)).map((other) => [e, other]));
}

function takerOf(problem: FitProblem, index: number, pictures: Pictures, nextId: () => number): Taker {
  const given = problem.destinations[index] as FitDestination;
  const canBackUp = !given.backup || given.sheet.backupIngest;
  const own = given.through?.only !== true && canBackUp;
  const encoders = own ? encodersFor(given, problem) : [];
  const relay = problem.destinations.findIndex((r) => r.id === given.through?.destinationId);
  const passes = relay >= 0 && (!given.backup || problem.destinations[relay]?.backup === true) && given.renditions === 1;
  return {
    index,
    given,
    weight: given.relay ? 0 : given.weight,
    terms: termsOf(problem, index, pictures, nextId),
    encoders,
    routes: own ? routesFor(given, problem) : [],
    protocols: encoders.map((at) => {
      const spoken = at.map((e) => commonProtocols(given.sheet, problem.encoders[e]));
      const shared = (spoken[0] ?? []).filter((p) => spoken.every((list) => list.includes(p)));
      if (given.fixed.protocol) return shared.filter((p) => p === given.fixed.protocol);
      return withoutIdle(shared);
    }),
    relay: passes ? relay : null,
    relayOnly: given.through?.only === true,
    ladder: given.renditions > 1,
  };
}

/** Makes a problem ready for solving. */
export function compile(problem: FitProblem): Model {
  const pictures = new Pictures();
  let id = 0;
  const nextId = () => id++;
  const keys = problem.encoders.map((e) => abilityKey(e, problem));
  return {
    problem,
    takers: problem.destinations.map((_, i) => takerOf(problem, i, pictures, nextId)),
    makes: new Makes(problem),
    alike: keys.map((key) => keys.indexOf(key)),
  };
}
