import type { Encoder } from "@ukaza/contract/encoder";
import type { FitProblem, FitUplink, StepDown } from "@ukaza/contract/fit";
import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import type { Settings } from "@ukaza/contract/settings";
import { feedLoad } from "../media/load";
import { frozenSettings } from "../rules/frozen";
import { loadOnPath } from "../survey/loadOnPath";
import { candidateOf, protocolsToTry } from "./candidates";
import { type Route, routesOf } from "./routes";
import { pictureScore } from "./score";

/** Fields that a sheet keeps as they are once the broadcast is public; how it is sent can never change while it is sent. */
export function frozenFields(sheet: RuleSheet): (keyof Settings)[] {
  const fields = new Set(sheet.lifecycle.freezes.flatMap((f) => f.fields));
  return [...new Set(["protocol" as const, ...[...fields].flatMap((field) => frozenSettings[field])])];
}

/** One way to serve the destination, and what it wants of the uplink that sinks. */
interface Way {
  settings: Settings;
  route: Route;
  q: number;
  /** Rate of the sinking uplink from which on it holds, bit/s; 0: it does not use that uplink. */
  fromBps: number;
  totalBps: number;
}

/** What settings on a route want of the uplink that sinks; Infinity: the other uplink, or the path, does not carry them. */
function wanted(route: Route, s: Settings, sinking: FitUplink): number {
  const onMain = loadOnPath(route.main, s);
  const shared = route.backup?.id === route.main.id ? onMain : 0;
  const onBackup = route.backup && !shared ? loadOnPath(route.backup, s) : 0;
  if (route.main.id !== sinking.id && onMain + shared > route.main.usableBps) return Number.POSITIVE_INFINITY;
  if (route.backup && !shared && route.backup.id !== sinking.id && onBackup > route.backup.usableBps) return Number.POSITIVE_INFINITY;
  return (route.main.id === sinking.id ? onMain + shared : 0) + (route.backup?.id === sinking.id && !shared ? onBackup : 0);
}

function* waysOf(problem: FitProblem, sheet: RuleSheet, encoder: Encoder, backup: boolean, sinking: FitUplink): Generator<Way> {
  const routes = routesOf(problem.uplinks, backup);
  for (const mode of sheet.modes)
    for (const frameRate of mode.frameRates)
      for (const protocol of protocolsToTry(sheet, encoder)) {
        const c = candidateOf(mode, frameRate, protocol, sheet, encoder, problem.source, problem.allowMaximum);
        if (typeof c === "string") continue;
        for (let videoBps = c.fromBps; videoBps <= c.toBps; videoBps += c.stepBps) {
          const settings = { ...c.base, videoBps };
          const { q } = pictureScore(settings, problem.source, problem.content);
          for (const route of routes) {
            const fromBps = wanted(route, settings, sinking);
            if (fromBps > sinking.usableBps) continue;
            const feeds = [route.main, ...(route.backup ? [route.backup] : [])];
            const totalBps = feeds.reduce((sum, u) => sum + feedLoad(settings, u.lossRatio ?? 0).loadBps, 0);
            yield { settings, route, q, fromBps, totalBps };
          }
        }
      }
}

/** Better score first; equal scores: lower load. As the fit itself decides. */
const better = (a: Way, b: Way): boolean => a.q > b.q + 1e-9 || (Math.abs(a.q - b.q) <= 1e-9 && a.totalBps < b.totalBps - 1e-9);

/**
 * The best settings at every rate of one uplink from its usable rate down to nothing, the others as they are. Whatever
 * holds at a rate holds at every higher one, so the ways sorted by the rate they want, and the best so far of them, are
 * the whole answer: no rate in between needs solving. `keep`: settings that must stay, as they are once public.
 */
export function stepDowns(problem: FitProblem, uplinkId: string, keep: Partial<Settings> = {}): StepDown[] {
  const [destination] = problem.destinations;
  const [encoder] = problem.encoders;
  const sinking = problem.uplinks.find((u) => u.id === uplinkId);
  if (!destination || !encoder || !sinking) throw new RangeError("step-downs need a destination, an encoder and the uplink");
  const kept = Object.entries(keep) as [keyof Settings, unknown][];
  const ways = [...waysOf(problem, destination.sheet, encoder, destination.backup, sinking)].filter((way) =>
    kept.every(([field, value]) => way.settings[field] === value),
  );
  ways.sort((a, b) => a.fromBps - b.fromBps);
  const steps: StepDown[] = [];
  let best: Way | null = null;
  for (const way of ways) {
    if (best && !better(way, best)) continue;
    best = way;
    const last = steps.at(-1);
    // Two ways that want the same rate: the better one takes the other's place.
    if (last && last.fromBps === way.fromBps) steps.pop();
    const { route } = way;
    steps.push({
      fromBps: Math.ceil(way.fromBps),
      settings: way.settings,
      q: way.q,
      mainUplinkId: route.main.id,
      backupUplinkId: route.backup?.id ?? null,
    });
  }
  return steps.reverse();
}

/** Step-downs of one picture on one route as a single row: the bitrate falls with the line until the picture changes. */
export interface StepDownRow {
  /** The picture at the row's top; the bitrate falls from here. */
  top: StepDown;
  /** The last of it: its rate is the least at which this picture still holds. */
  bottom: StepDown;
  /** What changes against the row above; empty for the first. */
  changes: (keyof Settings | "route")[];
}

const pictureFields = ["width", "height", "frameRate", "codec", "profile", "protocol"] as const;

/** Line rate, bit/s, for which a picture must hold to be worth falling to: less is gone before anybody has changed it (rule of thumb). */
export const LEAST_SPAN_BPS = 50_000;

/** Rows without those that hold for less than `leastBps` of line rate. */
export function worthFallingTo(rows: readonly StepDownRow[], leastBps = LEAST_SPAN_BPS): StepDownRow[] {
  return rows.filter((row, i) => i === 0 || (rows[i - 1]?.bottom.fromBps ?? 0) - row.bottom.fromBps >= leastBps);
}

/** The step-downs by picture and route, the highest rate first. */
export function stepDownRows(steps: readonly StepDown[]): StepDownRow[] {
  const rows: StepDownRow[] = [];
  for (const step of steps) {
    const row = rows.at(-1);
    const changes = row ? changesBetween(row.bottom, step) : [];
    if (row && changes.length === 0) row.bottom = step;
    else rows.push({ top: step, bottom: step, changes });
  }
  return rows;
}

function changesBetween(a: StepDown, b: StepDown): StepDownRow["changes"] {
  const moved = pictureFields.filter((field) => a.settings[field] !== b.settings[field]);
  const rerouted = a.mainUplinkId !== b.mainUplinkId || a.backupUplinkId !== b.backupUplinkId;
  return [...moved, ...(rerouted ? ["route" as const] : [])];
}
