import type { Encoder } from "@ukaza/contract/encoder";
import type { FitAnswer, FitProblem } from "@ukaza/contract/fit";
import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import { feedLoad } from "../media/load";
import { commonProtocols } from "../rules/abilities";
import { candidateOf } from "./candidates";
import { brokenLimit, routesOf } from "./routes";

type Conflict = (FitAnswer & { kind: "none" })["conflict"];

/** The smallest set of demands that cannot hold together, for a problem that has no fit. */
export function conflictOf(problem: FitProblem, sheet: RuleSheet, encoder: Encoder, backup: boolean): Conflict {
  const protocols = commonProtocols(sheet, encoder);
  if (protocols.length === 0) {
    return [{ demand: "protocol", sheet: sheet.protocols.map((p) => p.protocol), encoder: encoder.protocols }];
  }
  const tries = sheet.modes.flatMap((mode) =>
    mode.frameRates.flatMap((rate) =>
      protocols.map((protocol) => candidateOf(mode, rate, protocol, sheet, encoder, problem.source, problem.allowMaximum)),
    ),
  );
  const candidates = tries.filter((c) => typeof c !== "string");
  if (candidates.length === 0) return [{ demand: "encoder", what: [...new Set(tries.map(String))].join(", ") }];

  // The lightest thing the sheet takes; if even the single feed does not fit, the backup is not to blame.
  const lightest = candidates.reduce((a, b) => (feedLoad(b.base).loadBps < feedLoad(a.base).loadBps ? b : a));
  const alone = routesOf(problem.uplinks, false).some((route) => brokenLimit(route, lightest.base) === null);
  const widest = problem.uplinks.reduce((a, b) => (b.usableBps > a.usableBps ? b : a));
  const need = { demand: "uplink" as const, uplinkId: widest.id, usableBps: widest.usableBps, neededBps: feedLoad(lightest.base).loadBps };
  if (!backup || !alone) return [need];
  const narrowest = problem.uplinks.reduce((a, b) => (b.usableBps < a.usableBps ? b : a));
  const doubled = problem.uplinks.length === 1 ? 2 : 1;
  return [
    { demand: "backup", why: "no-room" },
    { ...need, uplinkId: narrowest.id, usableBps: narrowest.usableBps, neededBps: need.neededBps * doubled },
  ];
}
