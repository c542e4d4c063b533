import type { FitProblem } from "@ukaza/contract/fit";
import type { Insights, PlanLimit, WholePlan } from "@ukaza/contract/fitPlan";
import { POINT } from "./makes";
import { compile, type Model } from "./model";
import { search } from "./optimum";
import { type Limits, NOT_SERVED } from "./scope";
import { limitsOf, planOf } from "./solve";

const ONE_MBPS = 1_000_000;
/** Stands for a line without a limit. */
const BOUNDLESS_BPS = 1e10;
const MANY_ENGINES = 32;
const RUNNERS_UP = 3;
/** Each of these questions is asked of a search of its own, which may take so many branches. */
const NODES_EACH = 600;

/** What tells plans apart in kind: who is served, with which picture. One bitrate step is no difference, nor what a relay takes. */
const kindOf = (problem: FitProblem, plan: WholePlan): string[] =>
  plan.destinations.map(({ settings: s }, i) =>
    problem.destinations[i]?.relay ? "relay" : s ? `${s.width}x${s.height} ${s.frameRate} ${s.codec}` : "none",
  );

function pictureNumber(model: Model, destination: number, plan: WholePlan): number {
  const settings = plan.destinations[destination]?.settings;
  if (!settings) return NOT_SERVED;
  const same = model.takers[destination]?.terms.find(({ picture: p }) =>
    (["width", "height", "frameRate", "codec"] as const).every((field) => p[field] === settings[field]),
  );
  return same?.picture.index ?? NOT_SERVED;
}

/** What is asked beside the best plan; `onProgress` hears how much of it is done (0 to 1). */
export function insightsOf(problem: FitProblem, plan: WholePlan, onProgress: (share: number) => void = () => undefined): Insights {
  const model = compile(problem);
  const limits: Limits = { ...limitsOf(problem), mostNodes: NODES_EACH };
  const relays = problem.destinations.filter((d) => d.relay).length;
  const leftOut = plan.destinations.filter((d) => d.settings === null).length;
  const count = problem.destinations.length * 2 - relays - leftOut + problem.uplinks.length + problem.encoders.length + 2;
  let done = 0;
  let allProved = true;
  const ask = (changed: Partial<Limits>) => {
    const { best, proved } = search(model, { ...limits, ...changed });
    if (!proved) allProved = false;
    onProgress(++done / count);
    return best;
  };
  const gain = (changed: Partial<Limits>) => Math.max(0, (ask(changed)?.allocation.points ?? 0) / POINT - plan.points);

  // The best plan of another kind differs from this one somewhere: the best of all that differ in one given place is among them.
  const own = kindOf(problem, plan);
  const others = new Map<string, Insights["runnersUp"][number]>();
  for (let taker = 0; taker < problem.destinations.length; taker++) {
    if (problem.destinations[taker]?.relay) continue;
    const best = ask({ not: { taker, kind: pictureNumber(model, taker, plan) } });
    if (!best) continue;
    const other = planOf(model, best);
    const kinds = kindOf(problem, other);
    const differs = problem.destinations.flatMap((d, i) => (kinds[i] === own[i] ? [] : [d.id]));
    if (differs.length > 0) others.set(kinds.join("|"), { plan: other, differs });
  }
  const runnersUp = [...others.values()].sort((a, b) => b.plan.points - a.plan.points).slice(0, RUNNERS_UP);

  const raised = (list: readonly number[], at: number, by: number) => list.map((value, i) => (i === at ? value + by : value));
  const oneMoreMbps = problem.uplinks.map(({ id }, u) => ({
    uplinkId: id,
    points: gain({ roomBps: raised(limits.roomBps, u, ONE_MBPS) }),
  }));
  const oneMoreEngine = problem.encoders.map(({ id }, e) => ({ encoderId: id, points: gain({ engines: raised(limits.engines, e, 1) }) }));
  const dropping = problem.destinations.map((d, i) => {
    const pointsOf = (at: number) => (plan.destinations[at]?.score?.q ?? 0) * (problem.destinations[at]?.relay ? 0 : d.weight);
    if (!plan.destinations[i]?.settings) return { destinationId: d.id, points: null };
    const best = ask({ without: new Set([i]) });
    return { destinationId: d.id, points: Math.max(0, (best?.allocation.points ?? 0) / POINT - (plan.points - pointsOf(i))) };
  });
  const lineless = ask({ roomBps: limits.roomBps.map(() => BOUNDLESS_BPS) });
  const engineful = ask({ engines: limits.engines.map(() => MANY_ENGINES) });
  const [freeLine, freeEngines] = [lineless, engineful].map((best) => (best ? planOf(model, best) : plan));
  const bounds = problem.destinations.map((d, i) => {
    const now = plan.destinations[i];
    const q = now?.score?.q ?? 0;
    const better = (other: WholePlan | undefined) => (other?.destinations[i]?.score?.q ?? 0) > q + 1e-6;
    const routed = now?.bound ?? "others";
    const held: PlanLimit[] = ["uplink", "backup-uplink", "shared", "level"];
    const bound: PlanLimit = held.includes(routed) ? routed : better(freeLine) ? "uplink" : better(freeEngines) ? "engines" : routed;
    return { destinationId: d.id, bound };
  });
  return { runnersUp, oneMoreMbps, oneMoreEngine, dropping, bounds, proved: allProved };
}
