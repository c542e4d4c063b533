import type { FitAnswer } from "@ukaza/contract/fit";
import fc from "fast-check";
import { lastTrue } from "../fit/candidates";
import { fitOne } from "../fit/fitOne";
import { pictureScore, referenceBps } from "../fit/score";
import { feedLoad } from "../media/load";
import { checkSettings } from "../rules/check";
import { desk, oriel, problem, settings } from "./kit";

const source = { width: 1920, height: 1080, frameRate: "50", scan: "progressive" } as const;

function fitted(answer: FitAnswer) {
  if (answer.kind !== "fit") throw new Error(`no fit: ${JSON.stringify(answer.conflict)}`);
  return answer;
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
      const answer = fitOne(problem([usableBps]));
      const expected = exhaustive(usableBps);
      expect(answer.kind === "fit" ? answer.best.score.q : 0).toBeCloseTo(expected, 9);
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
            const answer = fitOne(problem([bps, bps], { backup }));
            if (answer.kind === "none") return 0;
            for (const feed of answer.best.feeds) expect(feed.loadBps).toBeLessThanOrEqual(bps);
            return answer.best.score.q;
          };
          expect(q(usable + more)).toBeGreaterThanOrEqual(q(usable));
        },
      ),
      { numRuns: 60 },
    );
  });

  test("what it proposes passes the check of rules", () => {
    for (const usable of [1_000_000, 4_000_000, 9_000_000]) {
      const { best } = fitted(fitOne(problem([usable])));
      const findings = checkSettings({ settings: best.settings, sheet: oriel, encoder: desk, source, usableBps: usable });
      expect(findings.filter((f) => f.level !== "notes")).toEqual([]);
    }
  });

  test("names what binds and what lifting it would give", () => {
    const thin = fitted(fitOne(problem([4_000_000])));
    expect(thin.best.bound).toBe("uplink");
    expect(thin.gains.find((g) => g.limit === "uplink")?.q).toBeGreaterThan(1);
    expect(thin.oneMoreMbpsQ).toBeGreaterThan(0);
    const wide = fitted(fitOne(problem([50_000_000])));
    expect(wide.best.bound).toBe("sheet");
    expect(wide.oneMoreMbpsQ).toBe(0);
    expect(wide.gains.find((g) => g.limit === "sheet")?.q).toBeGreaterThan(0);
    const weak = fitted(fitOne(problem([50_000_000], { encoders: [{ ...desk, videoBps: { ...desk.videoBps, max: 2_000_000 } }] })));
    expect(weak.best.bound).toBe("encoder");
  });

  test("the backup goes another way where there is one, and twice over the only line where there is none", () => {
    const two = fitted(fitOne(problem([10_000_000, 4_000_000], { backup: true })));
    expect(new Set(two.best.feeds.map((f) => f.uplinkId)).size).toBe(2);
    expect(two.best.bound).toBe("backup-uplink");
    const one = fitted(fitOne(problem([8_000_000], { backup: true })));
    expect(one.best.feeds.map((f) => f.uplinkId)).toEqual(["line-1", "line-1"]);
    expect(one.best.feeds.reduce((sum, f) => sum + f.loadBps, 0)).toBeLessThanOrEqual(8_000_000);
  });

  test("alternatives are ranked, one for each size and rate; what does not fit says why", () => {
    const { best, alternatives, refused } = fitted(fitOne(problem([2_500_000])));
    const scores = [best, ...alternatives].map((p) => p.score.q);
    expect(scores).toEqual([...scores].sort((a, b) => b - a));
    expect(refused.some((r) => r.width === 1920 && r.by === "uplink" && r.neededBps > 2_500_000)).toBe(true);
    const all = oriel.modes.reduce((n, m) => n + m.frameRates.length, 0);
    expect(1 + alternatives.length + refused.length).toBe(all);
  });

  test("a TCP path that loss caps is not used for more than the cap", () => {
    const capped = problem([20_000_000]);
    capped.uplinks = capped.uplinks.map((u) => ({ ...u, rttMs: 80, lossRatio: 0.01 }));
    // Mathis: 1448·8/0.08·1.2247/0.1 = 1.77 Mb/s.
    expect(fitted(fitOne(capped)).best.feeds[0]?.loadBps).toBeLessThan(1_774_000);
  });

  test("no answer says the smallest set that cannot hold together", () => {
    expect(fitOne(problem([200_000]))).toMatchObject({ kind: "none", conflict: [{ demand: "uplink", usableBps: 200_000 }] });
    expect(fitOne(problem([1_500_000], { backup: true })).kind).toBe("fit");
    expect(fitOne(problem([900_000], { backup: true }))).toMatchObject({
      kind: "none",
      conflict: [{ demand: "backup", why: "no-room" }, { demand: "uplink" }],
    });
    expect(fitOne(problem([9e6], { encoders: [{ ...desk, protocols: ["srt"] }] }))).toMatchObject({
      kind: "none",
      conflict: [{ demand: "protocol" }],
    });
    expect(fitOne(problem([9e6], { encoders: [{ ...desk, maxWidth: 320 }] }))).toMatchObject({
      kind: "none",
      conflict: [{ demand: "encoder", what: "size" }],
    });
    const noBackup = { id: "d", sheet: { ...oriel, backupIngest: false }, backup: true };
    expect(fitOne(problem([9e6], { destinations: [noBackup] } as never))).toMatchObject({
      kind: "none",
      conflict: [{ demand: "backup", why: "not-offered" }],
    });
  });

  test("the search by halves finds the last value that holds", () => {
    expect(lastTrue(100, 1_000, 100, (v) => v <= 450)).toBe(400);
    expect(lastTrue(100, 1_000, 100, () => true)).toBe(1_000);
    expect(lastTrue(100, 1_000, 100, () => false)).toBeNull();
  });
});
