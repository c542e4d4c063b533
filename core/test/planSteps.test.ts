import type { FitProblem } from "@ukaza/contract/fit";
import { oncePublic } from "../fit/asked";
import { solve } from "../fit/plan/solve";
import { planRows, planSteps, worthwhileBps } from "../fit/planSteps";
import { frozenFields } from "../rules/frozen";
import { problem, shippedSheets } from "./kit";
import { randomProblem } from "./problems";

const shape = { destinations: 3, uplinks: 2, encoders: 1, engines: 2, stepBps: 400_000, tightness: 0.8, sizes: 2, fast: false };

const holds = (asked: FitProblem, id: string, rate: number) =>
  rate >= 0 && solve({ ...asked, uplinks: asked.uplinks.map((u) => (u.id === id ? { ...u, usableBps: rate } : u)) }).kind === "fit";

describe("step-downs", () => {
  test("agree with solving afresh at every rate", () => {
    for (let seed = 1; seed <= 8; seed++) {
      const asked = randomProblem(seed, { ...shape, features: seed % 2 ? ["may"] : ["may", "backup", "audio"] });
      const [sinking] = asked.uplinks;
      if (!sinking) throw new Error("no uplink");
      const steps = [...planSteps(asked, sinking.id)];
      const between = [0.9, 0.6, 0.37, 0.1].map((share) => Math.floor(sinking.usableBps * share));
      for (const rate of [...between, ...steps.slice(0, 8).flatMap((s) => [s.fromBps, s.fromBps - 1])].filter((r) => r >= 0)) {
        const uplinks = asked.uplinks.map((u) => (u.id === sinking.id ? { ...u, usableBps: rate } : u));
        const afresh = solve({ ...asked, uplinks });
        const step = steps.find((s) => s.fromBps <= rate);
        if (afresh.kind === "none") expect({ seed, rate, step }).toEqual({ seed, rate, step: undefined });
        else expect(step?.plan.points).toBeCloseTo(afresh.plan.points, 6);
      }
    }
  });

  test("asked for at every so much of the line only, each is the best at the rate it was asked for", () => {
    const everyBps = 300_000;
    for (let seed = 21; seed <= 26; seed++) {
      const asked = randomProblem(seed, { ...shape, destinations: 4, features: ["may"] });
      const [sinking] = asked.uplinks;
      if (!sinking) throw new Error("no uplink");
      let [rate, last] = [sinking.usableBps, 0];
      for (const step of planSteps(asked, sinking.id, everyBps)) {
        const uplinks = asked.uplinks.map((u) => (u.id === sinking.id ? { ...u, usableBps: rate } : u));
        const afresh = solve({ ...asked, uplinks });
        if (afresh.kind === "none") throw new Error(`nothing at ${rate}`);
        expect(step.proved).toBe(true);
        expect(step.plan.points).toBeCloseTo(afresh.plan.points, 6);
        expect(step.fromBps).toBeLessThanOrEqual(rate);
        last = step.fromBps;
        rate = Math.floor((last - 1) / everyBps) * everyBps;
        if (holds(asked, sinking.id, rate)) continue;
        rate = last - 1;
      }
      // Below the last there is nothing at all.
      if (last > 0) expect(holds(asked, sinking.id, last - 1)).toBe(false);
    }
  });

  test("the points only fall, and rows gather what differs in bitrate alone", () => {
    const steps = [...planSteps(problem([12_000_000]), "line-1")];
    for (const [i, step] of steps.entries()) if (i > 0) expect(step.plan.points).toBeLessThanOrEqual(steps[i - 1]?.plan.points ?? 0);
    const rows = planRows(steps);
    expect(rows.length).toBeGreaterThan(3);
    expect(rows.length).toBeLessThan(steps.length);
    expect(rows.at(-1)?.bottom).toEqual(steps.at(-1));
    for (const [i, row] of planRows(steps, worthwhileBps(12_000_000)).entries())
      if (i > 0) expect((rows[rows.indexOf(row) - 1] ?? rows[i - 1])?.bottom.fromBps).toBeGreaterThan(row.bottom.fromBps);
  });

  test("once public only what the sheets leave free may move", () => {
    const oriel = shippedSheets["oriel-public"];
    const fields = frozenFields(oriel);
    expect(fields).toEqual(expect.arrayContaining(["protocol", "width", "height", "frameRate"]));
    const asked = problem([12_000_000]);
    const now = solve(asked);
    if (now.kind !== "fit") throw new Error("no fit");
    const before = now.plan.destinations[0]?.settings;
    const steps = [...planSteps(oncePublic(asked, now.plan), "line-1")];
    expect(steps[0]?.plan.destinations[0]?.settings).toEqual(before);
    for (const step of steps) for (const field of fields) expect(step.plan.destinations[0]?.settings?.[field]).toBe(before?.[field]);
    // Free to choose, the fit goes lower than what is frozen can.
    expect([...planSteps(asked, "line-1")].at(-1)?.fromBps).toBeLessThan(steps.at(-1)?.fromBps ?? 0);
  });

  test("an uplink that no feed needs can sink to nothing", () => {
    const steps = [...planSteps(problem([12_000_000, 12_000_000]), "line-2")];
    expect(steps.at(-1)?.fromBps).toBe(0);
    expect(new Set(steps.map((s) => s.plan.points.toFixed(6))).size).toBe(1);
    expect(() => [...planSteps(problem([1]), "line-9")]).toThrow(RangeError);
  });
});
