import { Forecast } from "@ukaza/core/fit/forecast";
import type { ForecastPart } from "@ukaza/core/fit/forecastLine";
import { compile } from "@ukaza/core/fit/plan/model";
import { search } from "@ukaza/core/fit/plan/optimum";
import { limitsOf, solve } from "@ukaza/core/fit/plan/solve";
import { planSteps, worthwhileBps } from "@ukaza/core/fit/planSteps";
import highsLoader from "highs";
import { integerProgram } from "../core/test/integerProgram";
import { features, randomProblem, type Shape } from "../core/test/problems";
import { line, median } from "./say";

const base = { stepBps: 100_000, tightness: 0.8, sizes: 4, fast: true } as const;

function ours(seed: number, shape: Shape) {
  const problem = randomProblem(seed, shape);
  const began = performance.now();
  const { best, proved } = search(compile(problem), limitsOf(problem));
  return { problem, ms: performance.now() - began, points: (best?.allocation.points ?? 0) / 1e6, proved };
}

/** Seconds that the library gets for each problem; one that it does not finish counts with this time. */
const LIBRARY_S = 20;

/** Many destinations at once, beside a general integer-programming library on the same problems in the same run. */
export async function fitMany(): Promise<void> {
  const highs = await highsLoader();
  // Once before the clock runs: what is measured is the search, not the loading of it.
  ours(100, { ...base, destinations: 6, uplinks: 2, encoders: 2, engines: 3 });
  const shape: Shape = { ...base, destinations: 6, uplinks: 2, encoders: 2, engines: 3 };
  const ratios: number[] = [];
  const times: number[] = [];
  let [same, finished] = [0, 0];
  const seeds = [1, 2, 3, 4, 5, 6];
  for (const seed of seeds) {
    const own = ours(seed, shape);
    const began = performance.now();
    const theirs = highs.solve(integerProgram(own.problem), {
      mip_rel_gap: 0,
      mip_abs_gap: 1e-7,
      time_limit: LIBRARY_S,
      output_flag: false,
    });
    ratios.push((performance.now() - began) / own.ms);
    times.push(own.ms);
    if (theirs.Status !== "Optimal") continue;
    finished++;
    if (Math.abs(theirs.ObjectiveValue - own.points) < 1e-3) same++;
  }
  line(
    `fit of 6 destinations × 2 uplinks, seeds ${seeds.join(", ")}`,
    `${median(times).toFixed(0)} ms`,
    "50 times faster",
    `${median(ratios).toFixed(0)} times faster than the library (at least; least ${Math.min(...ratios).toFixed(0)}); same optimum on ${same} of ${finished} that it finished`,
  );
  for (const [name, more, budget, count] of [
    ["8 destinations × 3 uplinks, 3 encoders", { destinations: 8, uplinks: 3, encoders: 3, engines: 3 }, "100 ms", 9],
    ["12 destinations × 4 uplinks, 6 encoders", { destinations: 12, uplinks: 4, encoders: 6, engines: 3 }, "1 s", 7],
    ["6 destinations × 2 uplinks with every feature", { destinations: 6, uplinks: 2, encoders: 2, engines: 3, features }, "none", 9],
  ] as const) {
    const runs = Array.from({ length: count }, (_, i) => i + 1).map((seed) => ours(seed, { ...base, ...more }));
    const ms = runs.map((r) => r.ms);
    const proved = runs.filter((r) => r.proved).length;
    line(
      `fit of ${name}, seeds 1 to ${count}`,
      `${median(ms).toFixed(0)} ms`,
      budget,
      `most ${Math.max(...ms).toFixed(0)} ms; ${proved} of ${runs.length} proved before the search was stopped; ${(median(ms) / median(times)).toFixed(1)} times the 6 × 2`,
    );
  }
}

/** The step-downs of one uplink, beside solving afresh at every rate that they ask about. */
export function stepDowns(): void {
  const times: number[] = [];
  const ratios: number[] = [];
  const counts: number[] = [];
  const seeds = Array.from({ length: 14 }, (_, i) => i + 1);
  for (const seed of seeds) {
    const problem = randomProblem(seed, { ...base, destinations: 8, uplinks: 2, encoders: 3, engines: 3 });
    const [sinking] = problem.uplinks;
    if (!sinking) throw new Error("no uplink");
    const began = performance.now();
    const steps = [...planSteps(problem, sinking.id, worthwhileBps(sinking.usableBps))];
    const ms = performance.now() - began;
    // Every tenth rate afresh, for all of them.
    const few = steps.filter((_, i) => i % 10 === 0);
    const from = performance.now();
    for (const { fromBps } of few)
      solve({ ...problem, uplinks: problem.uplinks.map((u) => (u.id === sinking.id ? { ...u, usableBps: fromBps } : u)) });
    ratios.push((((performance.now() - from) / few.length) * steps.length) / ms);
    times.push(ms);
    counts.push(steps.length);
  }
  line(
    `step-downs of 8 destinations × 2 uplinks, seeds 1 to ${seeds.length}`,
    `${(median(times) / 1000).toFixed(1)} s`,
    "1 s",
    `${times.filter((ms) => ms < 1000).length} of ${times.length} under it, most ${(Math.max(...times) / 1000).toFixed(1)} s; ${median(ratios).toFixed(1)} times faster than each rate afresh; ${Math.min(...counts)} to ${Math.max(...counts)} plans each`,
  );
}

/** 2,000 shows of three hours of three plans over two lines, beside as many bare draws of the line's noise. */
export function forecastShows(): void {
  const part: ForecastPart = {
    levels: [{ fromBps: 9e6, toBps: 14e6, tests: 30 }],
    outage: { perSecond: 1e-5, endsPerSecond: 0.05, leftShare: 0 },
    wander: { rho: 0.98, sigma: 0.012 },
    levelSpread: 0.05,
  };
  const feeds = (loadBps: number) => ({
    loads: [
      { line: "a", loadBps },
      { line: "b", loadBps },
    ],
    routes: [{ main: "a", backup: "b" }],
  });
  const question = {
    seconds: 10_800,
    seed: 1,
    lines: ["a", "b"].map((id) => ({ id, parts: [part], tests: 30 })),
    plans: [6e6, 8e6, 10e6].map(feeds),
    failover: { brokenForS: 5, maxSwitches: 3, withinS: 600 },
  };
  const began = performance.now();
  new Forecast(question).run(2_000);
  const ms = performance.now() - began;
  const from = performance.now();
  let sum = 0;
  for (let i = 0; i < 2_000 * 10_800 * 2; i++) sum += Math.sqrt(-2 * Math.log(1 - Math.random()));
  const bare = performance.now() - from;
  if (!(sum > 0)) throw new Error("no noise was drawn");
  line(
    "forecast of 2,000 shows of 3 h, three plans",
    `${(ms / 1000).toFixed(1)} s`,
    "10 s",
    `${(ms / bare).toFixed(1)} times drawing as many bare numbers`,
  );
}
