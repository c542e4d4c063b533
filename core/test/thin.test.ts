import type { Sample } from "@ukaza/contract/air";
import fc from "fast-check";
import { fromCells, fromSampleRow, toCells, toSampleRow } from "../formats/sampleRows";
import { groupBy } from "../groupBy";
import { normal, seeded } from "../random";
import { mean, median, quantile } from "../stats";
import { thinSamples } from "../wrap/thinSamples";
import { goodSample } from "./kit";

const sample = (feedId: string, s: number, more: Partial<Sample> = {}): Sample =>
  goodSample(feedId, new Date(1_780_000_000_000 + s * 1000).toISOString(), { sentBps: 4e6 + s * 1000, queueMs: s, ...more });

test("ten seconds become one: means of rates, the worst of the queue, and unknown stays unknown", () => {
  const [first, second, ...rest] = thinSamples(
    Array.from({ length: 20 }, (_, s) => sample("a", s, s >= 10 ? { sentBps: null, platform: s === 15 ? "refused" : "good" } : {})),
    10,
  );
  expect(first).toMatchObject({ feedId: "a", at: sample("a", 0).at, sentBps: 4_004_500, queueMs: 9, platform: "good" });
  expect(second).toMatchObject({ sentBps: null, queueMs: 19, platform: "refused" });
  expect(rest).toEqual([]);
});

test("feeds are thinned apart and sums are kept", () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 120 }), (n) => {
      const both = Array.from({ length: n * 10 }, (_, s) => [sample("a", s), sample("b", s, { sentBps: 1e6 })]).flat();
      const thinned = thinSamples(both, 10);
      expect(thinned).toHaveLength(2 * n);
      const sum = (samples: Sample[], feedId: string) =>
        samples.filter((s) => s.feedId === feedId).reduce((total, s) => total + (s.sentBps ?? 0), 0);
      expect(sum(thinned, "a") * 10).toBeCloseTo(sum(both, "a"), -2);
      expect(sum(thinned, "b") * 10).toBe(sum(both, "b"));
    }),
  );
});

test("a sample comes back from its row as it was measured", () => {
  const measured = sample("a", 3, { encoderLoad: 0.123456, queueMs: 12.6, rttMs: null, platform: null });
  expect(fromCells(toCells(measured), "a")).toEqual({ ...measured, encoderLoad: 0.123, queueMs: 13 });
  const row = toSampleRow("backup", measured);
  expect(row[0]).toBe("backup");
  expect(fromSampleRow(row, "f-9")).toEqual({ ...fromCells(toCells(measured), "f-9") });
});

test("quantiles by nearest rank, means and medians; nothing gives null", () => {
  expect([0, 0.1, 0.5, 0.9, 1].map((q) => quantile([10, 1, 9, 2, 8, 3, 7, 4, 6, 5], q))).toEqual([1, 1, 5, 9, 10]);
  expect([mean([]), median([]), quantile([], 0.5)]).toEqual([null, null, null]);
  expect(mean([1, 2, 6])).toBe(3);
});

test("seeded numbers are evenly spread and the normal ones have mean 0 and deviation 1", () => {
  const random = seeded(42);
  const even = Array.from({ length: 20_000 }, random);
  expect(mean(even)).toBeCloseTo(0.5, 1);
  expect(Math.min(...even)).toBeGreaterThanOrEqual(0);
  expect(Math.max(...even)).toBeLessThan(1);
  const bell = Array.from({ length: 20_000 }, () => normal(random));
  expect(Math.abs(mean(bell) ?? 1)).toBeLessThan(0.03);
  expect(mean(bell.map((x) => x * x))).toBeCloseTo(1, 1);
});

test("groups keep the order of first appearance and lose nothing", () => {
  expect([...groupBy([3, 1, 4, 1, 5, 9, 2, 6], (n) => n % 2)]).toEqual([
    [1, [3, 1, 1, 5, 9]],
    [0, [4, 2, 6]],
  ]);
});
