import type { Encoder } from "@ukaza/contract/encoder";
import type { FitAnswer, FitProblem, FitUplink, Limit, Plan } from "@ukaza/contract/fit";
import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import type { Settings } from "@ukaza/contract/settings";
import { feedLoad } from "../media/load";
import { type Candidate, candidateOf, lastTrue, protocolsToTry } from "./candidates";
import { conflictOf } from "./conflict";
import { brokenLimit, type Route, routesOf } from "./routes";
import { pictureScore } from "./score";

const ONE_MBPS = 1_000_000;
/** Stands for a line without a limit; far above what any settings load. */
const BOUNDLESS_BPS = 10_000_000_000;

interface Found {
  plan: Plan;
  loadBps: number;
}

/** The best plan of one candidate on one route: its highest bitrate that fits, and what stops the next step. */
function bestOnRoute(problem: FitProblem, encoder: Encoder, c: Candidate, route: Route): Found | Limit {
  const at = (videoBps: number): Settings => ({ ...c.base, videoBps });
  const videoBps = lastTrue(c.fromBps, c.toBps, c.stepBps, (rate) => brokenLimit(route, at(rate)) === null);
  if (videoBps === null) return brokenLimit(route, at(c.fromBps)) ?? "uplink";
  const settings = at(videoBps);
  const bound: Limit = videoBps < c.toBps ? (brokenLimit(route, at(videoBps + c.stepBps)) ?? "uplink") : c.endedBy;
  const [destination] = problem.destinations;
  const feed = (role: "main" | "backup", uplink: FitUplink) => ({
    role,
    encoderId: encoder.id,
    uplinkId: uplink.id,
    loadBps: feedLoad(settings, uplink.lossRatio ?? 0).loadBps,
  });
  const feeds = [feed("main", route.main), ...(route.backup ? [feed("backup", route.backup)] : [])];
  return {
    plan: { destinationId: destination?.id ?? "", settings, score: pictureScore(settings, problem.source, problem.content), feeds, bound },
    loadBps: feeds.reduce((sum, f) => sum + f.loadBps, 0),
  };
}

/** Better score first; equal scores: lower load, then the order the uplinks were given in. */
function compareFound(a: Found, b: Found): number {
  const gap = b.plan.score.q - a.plan.score.q;
  return Math.abs(gap) > 1e-9 ? gap : a.loadBps - b.loadBps;
}

interface Search {
  found: Found[];
  refused: (FitAnswer & { kind: "fit" })["refused"];
  considered: number;
}

/** Tries every mode, frame rate, protocol and route. One found per size, frame rate and codec: its best. */
function search(problem: FitProblem, sheet: RuleSheet, encoder: Encoder, backup: boolean): Search {
  const routes = routesOf(problem.uplinks, backup);
  const out: Search = { found: [], refused: [], considered: 0 };
  for (const mode of sheet.modes) {
    for (const frameRate of mode.frameRates) {
      let best: Found | null = null;
      let by: Limit = "encoder";
      let neededBps = 0;
      for (const protocol of protocolsToTry(sheet, encoder)) {
        const candidate = candidateOf(mode, frameRate, protocol, sheet, encoder, problem.source, problem.allowMaximum);
        if (typeof candidate === "string") {
          by = candidate === "level" ? "level" : "encoder";
          continue;
        }
        for (const route of routes) {
          out.considered++;
          const result = bestOnRoute(problem, encoder, candidate, route);
          if (typeof result === "string") {
            by = result;
            neededBps = feedLoad(candidate.base).loadBps;
          } else if (best === null || compareFound(result, best) < 0) best = result;
        }
      }
      if (best) out.found.push(best);
      else out.refused.push({ width: mode.width, height: mode.height, frameRate, codec: mode.codec, by, neededBps });
    }
  }
  out.found.sort(compareFound);
  return out;
}

const raise = (uplinks: FitUplink[], byBps: number): FitUplink[] =>
  uplinks.map((u) => ({ ...u, usableBps: Math.min(BOUNDLESS_BPS, u.usableBps + byBps) }));

/** An encoder that could do anything, to see what the real one costs. */
function boundlessEncoder(encoder: Encoder): Encoder {
  return {
    ...encoder,
    maxWidth: 16_384,
    maxHeight: 16_384,
    maxLumaPerS: Number.MAX_SAFE_INTEGER,
    videoBps: { ...encoder.videoBps, max: BOUNDLESS_BPS },
    sizes: null,
    frameRates: null,
    orientations: ["landscape", "portrait"],
    sizeMultiple: 2,
    convertsFrameRate: true,
    codecs: encoder.codecs.map((c) => ({ ...c, maxLevel: "6.3" })),
  };
}

/**
 * The best settings for one destination and one encoder: the optimum of the picture score over every mode,
 * frame rate, protocol, route and bitrate step that line, rule sheet and encoder allow. For each mode the score
 * rises with bitrate and so does the load, so the highest step that fits is its best and a search by halves finds it.
 */
export function fitOne(problem: FitProblem): FitAnswer {
  const [destination] = problem.destinations;
  const [encoder] = problem.encoders;
  if (!destination || !encoder) throw new RangeError("a fit needs one destination and one encoder");
  const { sheet, backup } = destination;
  if (backup && !sheet.backupIngest) return { kind: "none", conflict: [{ demand: "backup", why: "not-offered" }] };
  const { found, refused, considered } = search(problem, sheet, encoder, backup);
  const [best, ...others] = found;
  if (!best) return { kind: "none", conflict: conflictOf(problem, sheet, encoder, backup) };

  const bestQ = best.plan.score.q;
  const gain = (changed: FitProblem, withEncoder = encoder) =>
    Math.max(0, (search(changed, sheet, withEncoder, backup).found[0]?.plan.score.q ?? 0) - bestQ);
  const backupId = best.plan.feeds.find((f) => f.role === "backup")?.uplinkId;
  const mainId = best.plan.feeds[0]?.uplinkId;
  const lift = (id: string | undefined) => ({
    ...problem,
    uplinks: problem.uplinks.map((u) => (u.id === id ? { ...u, usableBps: BOUNDLESS_BPS } : u)),
  });
  const gains = [
    { limit: "uplink" as const, q: gain(lift(mainId)) },
    ...(backupId && backupId !== mainId ? [{ limit: "backup-uplink" as const, q: gain(lift(backupId)) }] : []),
    { limit: "sheet" as const, q: gain({ ...problem, allowMaximum: true }) },
    { limit: "encoder" as const, q: gain(problem, boundlessEncoder(encoder)) },
  ];
  return {
    kind: "fit",
    best: { ...best.plan, bound: sourceBinds(best.plan, problem, sheet) ? "source" : best.plan.bound },
    alternatives: others.map((f) => f.plan),
    refused,
    gains,
    oneMoreMbpsQ: gain({ ...problem, uplinks: raise(problem.uplinks, ONE_MBPS) }),
    considered,
  };
}

/** At the camera's own size and rate, with the sheet's full bitrate, and larger modes on offer: the camera binds. */
function sourceBinds(plan: Plan, problem: FitProblem, sheet: RuleSheet): boolean {
  const { source } = problem;
  const { settings } = plan;
  const whole = settings.width === source.width && settings.height === source.height;
  return plan.bound === "sheet" && whole && sheet.modes.some((m) => m.width * m.height > source.width * source.height);
}
