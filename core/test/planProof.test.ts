import type { FitProblem } from "@ukaza/contract/fit";
import highsLoader from "highs";
import { insightsOf } from "../fit/plan/insights";
import { compile } from "../fit/plan/model";
import { search } from "../fit/plan/optimum";
import { limitsOf, solve } from "../fit/plan/solve";
import { faultsIn } from "../rules/check";
import { integerProgram } from "./integerProgram";
import { shippedKit, shippedSheets } from "./kit";
import { randomProblem, type Shape } from "./problems";

const middling: Shape = { destinations: 4, uplinks: 2, encoders: 2, engines: 2, stepBps: 200_000, tightness: 0.7, sizes: 3, fast: true };

const points = (problem: FitProblem): number => {
  const answer = solve(problem);
  return answer.kind === "fit" ? answer.plan.points : Number.NEGATIVE_INFINITY;
};

test("the optimum is the one that a general integer-programming library finds", async () => {
  const highs = await highsLoader();
  for (let seed = 1; seed <= 24; seed++) {
    const problem = randomProblem(seed, { ...middling, features: seed % 2 ? ["may"] : ["backup", "not-over", "may"] });
    const { best, proved } = search(compile(problem), limitsOf(problem));
    const theirs = highs.solve(integerProgram(problem), { mip_rel_gap: 0, mip_abs_gap: 1e-7, output_flag: false });
    if (theirs.Status === "Infeasible") expect({ seed, best }).toEqual({ seed, best: null });
    else {
      expect({ seed, status: theirs.Status, proved }).toEqual({ seed, status: "Optimal", proved: true });
      expect((best?.allocation.points ?? 0) / 1e6).toBeCloseTo(theirs.ObjectiveValue, 3);
    }
  }
});

test("twelve destinations, four uplinks and six encoders: the best use is proved, also where it lies far under the first bound", () => {
  const large: Shape = { ...middling, destinations: 12, uplinks: 4, encoders: 6, engines: 3, stepBps: 100_000, tightness: 0.8, sizes: 4 };
  for (const seed of [3, 7]) {
    const answer = solve(randomProblem(seed, large));
    if (answer.kind === "none") throw new Error("no plan");
    const { certificate, plan } = answer;
    expect(certificate).toMatchObject({ proved: true, points: plan.points, boundPoints: plan.points });
    expect(plan.destinations.every((d) => d.settings !== null)).toBe(true);
    for (const { loadBps, usableBps } of plan.uplinks) expect(loadBps).toBeLessThanOrEqual(usableBps);
  }
});

test("more line, more engines or more weight never make it worse; the certificate's bound is the plan's own", () => {
  for (let seed = 1; seed <= 15; seed++) {
    const problem = randomProblem(seed, { ...middling, features: ["may", "backup"] });
    const now = points(problem);
    const wider = { ...problem, uplinks: problem.uplinks.map((u, i) => (i === 0 ? { ...u, usableBps: u.usableBps + 700_000 } : u)) };
    const stronger = { ...problem, encoders: problem.encoders.map((e, i) => (i === 0 ? { ...e, engines: e.engines + 1 } : e)) };
    const weightier = {
      ...problem,
      destinations: problem.destinations.map((d, i) => (i === 0 ? { ...d, weight: Math.min(5, d.weight + 1) } : d)),
    };
    for (const more of [wider, stronger, weightier]) expect(points(more)).toBeGreaterThanOrEqual(now - 1e-9);
    const answer = solve(problem);
    if (answer.kind === "fit")
      expect(answer.certificate).toMatchObject({ proved: true, points: answer.plan.points, boundPoints: answer.plan.points });
  }
});

test("what more would be worth is what solving afresh finds, and runners-up differ in kind", () => {
  const problem = randomProblem(3, { ...middling, tightness: 0.5, features: ["may"] });
  const answer = solve(problem);
  if (answer.kind !== "fit") throw new Error("no fit");
  let said = 0;
  const insights = insightsOf(problem, answer.plan, (share) => {
    expect(share).toBeGreaterThan(said);
    said = share;
  });
  expect(said).toBeCloseTo(1, 6);
  for (const [i, { points: more }] of insights.oneMoreMbps.entries()) {
    const afresh = points({ ...problem, uplinks: problem.uplinks.map((u, n) => (n === i ? { ...u, usableBps: u.usableBps + 1e6 } : u)) });
    expect(more).toBeCloseTo(afresh - answer.plan.points, 6);
  }
  for (const { destinationId, points: gain } of insights.dropping) {
    const own = answer.plan.destinations.find((d) => d.destinationId === destinationId);
    const weight = problem.destinations.find((d) => d.id === destinationId)?.weight ?? 0;
    const without = { ...problem, destinations: problem.destinations.filter((d) => d.id !== destinationId) };
    if (gain === null) expect(own?.settings).toBeNull();
    else expect(gain).toBeCloseTo(points(without) - (answer.plan.points - weight * (own?.score?.q ?? 0)), 6);
  }
  expect(insights.proved).toBe(true);
  expect(insights.runnersUp.length).toBeGreaterThan(0);
  for (const { plan, differs } of insights.runnersUp) {
    expect(plan.points).toBeLessThanOrEqual(answer.plan.points + 1e-9);
    expect(differs.length).toBeGreaterThan(0);
  }
});

const shipped = (usableBps: number[], more: (name: string) => object = () => ({})): FitProblem => {
  const names = ["oriel-public", "parishboard", "tallgate", "halyard-relay"] as const;
  const base = randomProblem(1, { ...middling, destinations: 4, uplinks: usableBps.length, encoders: 1 });
  return {
    ...base,
    uplinks: usableBps.map((bps, i) => ({ id: `line-${i}`, usableBps: bps })),
    encoders: [shippedKit["desk-encoder"]],
    destinations: names.map((name, i) => ({
      ...(base.destinations[i] as (typeof base.destinations)[number]),
      id: name,
      sheet: shippedSheets[name],
      fixed: {},
      ...more(name),
    })),
    content: "stage",
  };
};

test("of two uplinks that carry as much for as little load, the one that stands first is taken", () => {
  const one = shipped([9_000_000, 9_000_000], (name) => ({ must: name === "parishboard" }));
  const problem = { ...one, destinations: one.destinations.filter((d) => d.id === "parishboard") };
  const answer = solve(problem);
  expect(answer.kind === "fit" && answer.plan.destinations[0]?.feeds.map((f) => f.uplinkId)).toEqual(["line-0"]);
});

test("a conflict is told with each demand needed: without any of them there is an answer", () => {
  const must = { must: true };
  const problem = shipped([2_500_000], (name) =>
    name === "oriel-public" ? { ...must, backup: true, fixed: { frameRate: "50" } } : { must: name === "parishboard" },
  );
  const answer = solve(problem);
  if (answer.kind !== "none") throw new Error("there is an answer");
  expect(answer.conflict).toEqual(expect.arrayContaining([{ demand: "fixed", destinationId: "oriel-public", fields: ["frameRate"] }]));
  const eased = (demand: (typeof answer.conflict)[number]): FitProblem => ({
    ...problem,
    destinations: problem.destinations.map((d) =>
      d.id !== demand.destinationId
        ? { ...d, must: d.must && answer.conflict.some((c) => c.destinationId === d.id) }
        : {
            ...d,
            fixed: demand.demand === "fixed" ? {} : d.fixed,
            backup: demand.demand !== "backup" && d.backup,
            must: demand.demand !== "serve",
          },
    ),
  });
  for (const demand of answer.conflict) expect(solve(eased(demand)).kind).toBe("fit");
});

test("every settings of a plan pass their own rule sheet and encoder, portrait beside landscape, a relay passing on", () => {
  const problem = shipped([11_000_000, 6_000_000], (name) => ({
    must: name !== "halyard-relay",
    backup: name === "oriel-public",
    relay: name === "halyard-relay",
    weight: 3,
    through: name === "parishboard" ? { destinationId: "halyard-relay", only: true } : null,
  }));
  const answer = solve(problem);
  if (answer.kind !== "fit") throw new Error(JSON.stringify(answer));
  const byId = new Map(answer.plan.destinations.map((d) => [d.destinationId, d]));
  expect(byId.get("parishboard")).toMatchObject({ through: "halyard-relay", feeds: [] });
  expect(byId.get("oriel-public")?.feeds.map((f) => f.uplinkId)).toEqual(["line-0", "line-1"]);
  expect(byId.get("tallgate")?.settings).toMatchObject({ width: 1080, height: 1920 });
  for (const d of problem.destinations) {
    const settings = byId.get(d.id)?.settings;
    const encoder = byId.get(d.id)?.through ? undefined : problem.encoders[0];
    if (!settings) throw new Error(`${d.id} is not served`);
    const own = byId.get(d.id)?.through ? { ...settings, protocol: d.sheet.protocols[0]?.protocol ?? settings.protocol } : settings;
    const blocking = faultsIn({ settings: own, sheet: d.sheet, ...(encoder ? { encoder } : {}), source: problem.source }).filter(
      (f) => f.level === "blocks",
    );
    expect(blocking).toEqual([]);
  }
});

test("what is shared out among encoders that differ in sound and profile is told to each as it can make it", () => {
  for (let seed = 1; seed <= 12; seed++) {
    const drawn = randomProblem(seed, { ...middling, features: ["may"] });
    // The same pictures and bitrates, but another profile and one channel: the search may take one for the other, the plan may not.
    const encoders = drawn.encoders.map((e, i) =>
      i === 1
        ? {
            ...drawn.encoders[0],
            id: e.id,
            audioChannelsMax: 1,
            codecs: [{ codec: "h264" as const, profiles: ["main" as const], maxLevel: "5.1" }],
          }
        : e,
    );
    const problem = { ...drawn, encoders } as FitProblem;
    const answer = solve(problem);
    if (answer.kind === "none") continue;
    for (const { settings: own, destinationId, feeds } of answer.plan.destinations) {
      const sheet = problem.destinations.find((d) => d.id === destinationId)?.sheet;
      const encoder = problem.encoders.find((e) => e.id === feeds[0]?.encoderId);
      if (own && sheet && encoder)
        expect(faultsIn({ settings: own, sheet, encoder, source: problem.source }).filter((f) => f.level === "blocks")).toEqual([]);
    }
  }
});

test("a ladder's renditions lie 1.5 to 2 times apart, in one family of rates, keyframes together, each a mode of the sheet", () => {
  const problem = shipped([14_000_000], (name) => ({ must: name === "halyard-relay", renditions: name === "halyard-relay" ? 3 : 1 }));
  const own = { ...problem, destinations: problem.destinations.filter((d) => d.id === "halyard-relay") };
  const answer = solve(own);
  const ladder = answer.kind === "fit" ? answer.plan.destinations[0] : undefined;
  if (!ladder?.settings) throw new Error("no ladder");
  const all = [ladder.settings, ...ladder.rungs];
  expect(all).toHaveLength(3);
  all.slice(1).forEach((rung, i) => {
    const above = all[i] as typeof rung;
    const ratio = above.videoBps / rung.videoBps;
    expect(ratio).toBeGreaterThanOrEqual(1.5);
    expect(ratio).toBeLessThanOrEqual(2);
    expect(rung.width).toBeLessThan(above.width);
    expect(rung).toMatchObject({ keyframeS: above.keyframeS, profile: above.profile, audioBps: above.audioBps });
    expect(
      own.destinations[0]?.sheet.modes.some(
        (m) => m.width === rung.width && rung.videoBps >= m.minBps && rung.videoBps <= (m.recommendedBps ?? m.maxBps),
      ),
    ).toBe(true);
  });
  expect(answer.kind === "fit" && answer.plan.engines[0]?.count).toBe(3);
});
