import fc from "fast-check";
import { solveByHand } from "../fit/byHand";
import { comparePlans } from "../fit/comparePlans";
import { solve } from "../fit/plan/solve";
import { planFrom, plannedOf } from "../fit/planFrom";
import { pictureScore, referenceBps } from "../fit/score";
import { weightsByOrder } from "../fit/weights";
import { feedLoad } from "../media/load";
import { checkSettings } from "../rules/check";
import { desk, oriel, problem, settings } from "./kit";
import { randomProblem } from "./problems";

const source = { width: 1920, height: 1080, frameRate: "50", scan: "progressive" } as const;

function planned(asked: ReturnType<typeof problem>) {
  const answer = solve(asked);
  if (answer.kind !== "fit") throw new Error(`no fit: ${JSON.stringify(answer.conflict)}`);
  return answer.plan;
}

/** What the only destination gets. */
function served(asked: ReturnType<typeof problem>) {
  const [d] = planned(asked).destinations;
  if (!d?.settings || !d.score) throw new Error("not served");
  return { ...d, settings: d.settings, score: d.score };
}

describe("picture score, worked by hand", () => {
  test("1920×1080 at 25, 5.8 Mb/s, stage, from a 50p camera", () => {
    // px = 51,840,000; R* = 5 Mb/s · (51.84/62.208)^0.75 = 4.3612 Mb/s; f = 1 − e^(−1.6·5.8/4.3612) = 0.88089;
    // D = 1; M = 0.5^0.15 = 0.90125; Q = 79.39.
    const s = { ...settings, videoBps: 5_800_000 };
    expect(referenceBps(s, "stage")).toBeCloseTo(4_361_100, -3);
    expect(pictureScore(s, source, "stage").q).toBeCloseTo(79.39, 1);
  });

  test("another cadence costs 15 % of the movement; an interlaced camera counts its fields", () => {
    const thirty = pictureScore({ ...settings, frameRate: "30" }, source, "talk");
    expect(thirty.motion).toBeCloseTo(0.85 * (30 / 50) ** 0.05, 6);
    const fields = pictureScore({ ...settings, frameRate: "25" }, { ...source, frameRate: "25", scan: "interlaced" }, "sport");
    expect(fields.motion).toBeCloseTo(0.5 ** 0.35, 6);
  });

  test("a larger picture than the camera's gains no detail; better codecs need less", () => {
    expect(pictureScore({ ...settings, width: 3840, height: 2160 }, source, "stage").detail).toBe(1);
    expect(pictureScore({ ...settings, codec: "h265" }, source, "stage").fidelity).toBeGreaterThan(
      pictureScore(settings, source, "stage").fidelity,
    );
  });
});

describe("fit of one destination", () => {
  /** Every mode, rate and 100 kb/s step, tried one by one. */
  function exhaustive(usableBps: number): number {
    let best = 0;
    for (const mode of oriel.modes) {
      for (const frameRate of mode.frameRates) {
        for (let videoBps = mode.minBps; videoBps <= (mode.recommendedBps ?? mode.maxBps); videoBps += 100_000) {
          const s = { ...settings, width: mode.width, height: mode.height, frameRate, videoBps };
          if (feedLoad(s).loadBps <= usableBps) best = Math.max(best, pictureScore(s, source, "stage").q);
        }
      }
    }
    return best;
  }

  test("is the optimum: the same as trying everything", () => {
    for (const usableBps of [700_000, 1_500_000, 2_400_000, 3_300_000, 4_700_000, 6_100_000, 7_500_000, 12_000_000]) {
      // The solver counts in millionths of a point.
      expect(served(problem([usableBps])).score.q).toBeCloseTo(exhaustive(usableBps), 5);
    }
  });

  test("more line never gives a worse fit, and a fit never loads a line over its usable rate", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 300_000, max: 15_000_000 }),
        fc.integer({ min: 0, max: 5_000_000 }),
        fc.boolean(),
        (usable, more, backup) => {
          const q = (bps: number) => {
            const answer = solve(problem([bps, bps], { backup }));
            if (answer.kind === "none") return 0;
            for (const line of answer.plan.uplinks) expect(line.loadBps).toBeLessThanOrEqual(bps);
            return answer.plan.points;
          };
          expect(q(usable + more)).toBeGreaterThanOrEqual(q(usable) - 1e-6);
        },
      ),
      { numRuns: 60 },
    );
  });

  test("what it proposes passes the check of rules", () => {
    for (const usable of [1_000_000, 4_000_000, 9_000_000]) {
      const findings = checkSettings({
        settings: served(problem([usable])).settings,
        sheet: oriel,
        encoder: desk,
        source,
        usableBps: usable,
      });
      expect(findings.filter((f) => f.level !== "notes")).toEqual([]);
    }
  });

  test("names what binds", () => {
    expect(served(problem([4_000_000])).bound).toBe("uplink");
    expect(served(problem([50_000_000])).bound).toBe("sheet");
    const weak = problem([50_000_000], { encoders: [{ ...desk, videoBps: { ...desk.videoBps, max: 2_000_000 } }] });
    expect(served(weak).bound).toBe("encoder");
  });

  test("the backup goes another way where there is one, and twice over the only line where there is none", () => {
    const two = served(problem([10_000_000, 4_000_000], { backup: true }));
    expect(new Set(two.feeds.map((f) => f.uplinkId)).size).toBe(2);
    expect(two.bound).toBe("backup-uplink");
    const one = served(problem([8_000_000], { backup: true }));
    expect(one.feeds.map((f) => f.uplinkId)).toEqual(["line-1", "line-1"]);
    expect(one.feeds.reduce((sum, f) => sum + f.loadBps, 0)).toBeLessThanOrEqual(8_000_000);
  });

  test("a TCP path that loss caps is not used for more than the cap", () => {
    const capped = problem([20_000_000]);
    capped.uplinks = capped.uplinks.map((u) => ({ ...u, rttMs: 80, lossRatio: 0.01 }));
    // Mathis: 1448·8/0.08·1.2247/0.1 = 1.77 Mb/s.
    expect(served(capped).feeds[0]?.loadBps).toBeLessThan(1_774_000);
  });

  test("no answer says the smallest set that cannot hold together", () => {
    expect(solve(problem([200_000]))).toMatchObject({ kind: "none", conflict: [{ demand: "serve" }] });
    expect(solve(problem([1_500_000], { backup: true })).kind).toBe("fit");
    expect(solve(problem([900_000], { backup: true }))).toMatchObject({ kind: "none", conflict: [{ demand: "backup" }] });
    expect(solve(problem([9e6], { encoders: [{ ...desk, protocols: ["srt"] }] }))).toMatchObject({ kind: "none" });
    expect(solve(problem([9e6], { encoders: [{ ...desk, maxWidth: 320 }] }))).toMatchObject({ kind: "none" });
  });
});

describe("settings by hand", () => {
  const byHand = (usable: number, fixed: object) => {
    const asked = problem([usable]);
    return solveByHand({ ...asked, destinations: asked.destinations.map((d) => ({ ...d, fixed })) });
  };

  test("what the sheet takes is part of the plan; what it does not take, or the line cannot carry, is laid over it", () => {
    const taken = byHand(7_000_000, { frameRate: "50" });
    expect(taken.laidOver).toEqual([]);
    expect(taken.answer).toMatchObject({ plan: { destinations: [{ settings: { frameRate: "50" } }] } });
    const refused = byHand(7_000_000, { audioBps: 640_000 });
    expect(refused.laidOver).toEqual(["oriel"]);
    expect(refused.answer).toMatchObject({ plan: { destinations: [{ settings: { audioBps: 640_000 } }] } });
    const heavy = byHand(7_000_000, { videoBps: 8_000_000, width: 1920, height: 1080, frameRate: "25" });
    expect(heavy.laidOver).toEqual(["oriel"]);
    const [line] = heavy.answer.kind === "fit" ? heavy.answer.plan.uplinks : [];
    expect(line?.loadBps).toBeGreaterThan(8_000_000);
    expect(byHand(200_000, { frameRate: "25" }).answer.kind).toBe("none");
  });
});

describe("plans that were kept", () => {
  const shape = { destinations: 4, uplinks: 2, encoders: 2, engines: 2, stepBps: 200_000, tightness: 0.8, sizes: 3, fast: true };

  test("a plan worked out again from what it serves has the same points, loads and engines", () => {
    for (let seed = 1; seed <= 12; seed++) {
      const asked = randomProblem(seed, { ...shape, features: ["may", "backup", "relay", "audio"] });
      const answer = solve(asked);
      if (answer.kind === "none") continue;
      const again = planFrom(asked, plannedOf(answer.plan));
      expect(again.points).toBeCloseTo(answer.plan.points, 4);
      for (const [i, line] of again.uplinks.entries()) expect(line.loadBps).toBe(answer.plan.uplinks[i]?.loadBps);
      const key = (plan: typeof again) => plan.engines.map((e) => `${e.encoderId} ${[...e.destinationIds].sort().join()}`).sort();
      // A relay's passengers ride on its engine.
      const fed = answer.plan.destinations.flatMap((d) => (d.feeds.length > 0 ? [d.destinationId] : []));
      const own = answer.plan.engines.map((e) => ({ ...e, destinationIds: e.destinationIds.filter((id) => fed.includes(id)) }));
      expect(key(again)).toEqual(key({ ...answer.plan, engines: own }));
    }
  });

  test("two plans are compared field by field, by score and by load", () => {
    const asked = problem([7_000_000, 5_000_000]);
    const a = planned(asked);
    const [d] = plannedOf(a);
    if (!d?.settings) throw new Error("not served");
    const b = planFrom(asked, [
      { ...d, settings: { ...d.settings, frameRate: "50" }, feeds: d.feeds.map((f) => ({ ...f, uplinkId: "line-2" })) },
    ]);
    const { fields, scores, loads, points } = comparePlans(a, b);
    expect(fields.map((f) => f.field).sort()).toEqual(["frameRate", "main"]);
    expect(fields.find((f) => f.field === "frameRate")).toMatchObject({ a: "25", b: "50" });
    expect(scores).toEqual([{ destinationId: "oriel", a: a.destinations[0]?.score?.q, b: b.destinations[0]?.score?.q }]);
    expect(loads.map((l) => [l.a > 0, l.b > 0])).toEqual([
      [true, false],
      [false, true],
    ]);
    expect(points).toEqual({ a: a.points, b: b.points });
    expect(comparePlans(a, planFrom(asked, [])).fields).toEqual([{ destinationId: "oriel", field: "served", a: true, b: false }]);
  });

  test("the order makes the weights: even steps from 5 to 1", () => {
    expect(weightsByOrder(1)).toEqual([3]);
    expect(weightsByOrder(2)).toEqual([5, 1]);
    expect(weightsByOrder(4)).toEqual([5, 4, 2, 1]);
    expect(weightsByOrder(12).at(0)).toBe(5);
    expect(weightsByOrder(12).at(-1)).toBe(1);
  });
});
