import fc from "fast-check";
import { seeded } from "../random";
import { bondedRate } from "../survey/bonded";
import { boundOf } from "../survey/level";
import { crowdShare, type LineModel, lineAtRest, lineStep, shareCapacity } from "../survey/lineModel";
import { localTime, nearSpan } from "../survey/localTime";
import { binomialAtLeast, lowerBoundRank } from "../survey/orderStatistic";
import { ownIpBps, toIpBps } from "../survey/ownRate";
import { mathisCapBps, pathVerdict, srtLatencyMs } from "../survey/path";
import { place } from "../survey/place";
import { type Reading, readingOf } from "../survey/reading";
import { byHour } from "../survey/spread";
import { sustainableRate } from "../survey/sustainable";
import { measured as measurement } from "./kit";

const measured = (...given: Parameters<typeof measurement>): Reading => readingOf(measurement(...given));

const show = { start: "2026-06-10T18:30:00Z", end: "2026-06-10T20:30:00Z" };
const question = { show, timeZone: "Europe/London", asOf: "2026-06-10T12:00:00Z", reserveOverride: null };
/** n tests on weekday evenings before the show, each with its own rate in Mb/s. */
const evenings = (rates: number[]) =>
  rates.map((mbps, i) =>
    measured(new Date(Date.parse("2026-06-09T19:00:00Z") - (i % 2) * 86_400_000 + (i % 60) * 60_000).toISOString(), mbps),
  );

describe("order statistic", () => {
  /** P[X ≥ k] for X ~ Binomial(n, p), summed upwards with exact coefficients: another road than the core's. */
  function independent(n: number, p: number, k: number): number {
    let sum = 0;
    for (let i = k; i <= n; i++) {
      let coefficient = 1;
      for (let j = 0; j < i; j++) coefficient = (coefficient * (n - j)) / (j + 1);
      sum += coefficient * p ** i * (1 - p) ** (n - i);
    }
    return sum;
  }

  test("agrees with an independent binomial sum", () => {
    for (let n = 1; n <= 120; n++) {
      for (const k of [0, 1, 2, 5, Math.floor(n / 3), n])
        expect(binomialAtLeast(n, 0.1, k)).toBeCloseTo(k <= 0 ? 1 : independent(n, 0.1, k), 9);
      let largest = 0;
      while (largest < n && independent(n, 0.1, largest + 1) >= 0.95) largest++;
      expect(lowerBoundRank(n)).toBe(largest);
    }
  });

  test("29 is the least number that has a bound; large numbers do not underflow", () => {
    expect(lowerBoundRank(28)).toBe(0);
    expect(lowerBoundRank(29)).toBe(1);
    const rank = lowerBoundRank(100_000);
    // The normal approximation: n·p − 1.645·sqrt(n·p·q) = 9,844.
    expect(rank).toBeGreaterThan(9_830);
    expect(rank).toBeLessThan(9_860);
  });
});

describe("a measurement's own rate", () => {
  test("is the 10th percentile of its seconds, at the IP layer", () => {
    expect(toIpBps(14_480_000, "tcp")).toBeCloseTo(15_000_000, 3);
    expect(toIpBps(1_000_000, "udp", 1000)).toBeCloseTo(1_028_000, 3);
    // 32,768 bytes of payload travel in 23 fragments: 28 + 22·20 header bytes.
    expect(toIpBps(32_768_000, "udp", 32_768)).toBeCloseTo(32_768_000 + 468_000, 0);
    expect(ownIpBps({ rateBps: 9e6, layer: "ip", seriesBps: [5e6, 9e6, 9e6, 9e6, 9e6, 9e6, 9e6, 9e6, 9e6, 9e6] })).toBe(5e6);
    expect(ownIpBps({ rateBps: 9e6, layer: "ip" })).toBe(9e6);
  });
});

describe("sustainable rate", () => {
  test("no measurement: unknown", () => {
    expect(sustainableRate([], question)).toMatchObject({ evidence: "none", sustainableBps: null, usableBps: null });
  });

  test.each([
    [1, "few", 0.5],
    [4, "few", 0.5],
    [5, "minimum", 0.35],
    [28, "minimum", 0.35],
    [29, "interval", 0.2],
    [60, "interval", 0.2],
  ] as const)("%d tests: %s, reserve %d", (n, evidence, reserve) => {
    const result = sustainableRate(evenings(Array.from({ length: n }, (_, i) => 10 + i)), question);
    expect(result).toMatchObject({ evidence, ruleReserve: reserve, reserve, used: n });
    // Up to 45 tests the bound's rank is 1, from 46 on 2: the minimum, then the second smallest.
    const expected = (n >= 46 ? 11 : 10) * 1e6;
    expect(result.sustainableBps).toBe(expected);
    expect(result.usableBps).toBe(Math.floor(expected * (1 - reserve)));
  });

  test("only the show's hours count, and only its kind of day where five exist", () => {
    const evening = evenings([12, 13, 14, 15, 16]);
    const morning = measured("2026-06-09T08:00:00Z", 2);
    const saturday = measured("2026-06-06T19:00:00Z", 3);
    const result = sustainableRate([...evening, morning, saturday], question);
    expect(result).toMatchObject({ total: 7, nearShow: 6, used: 5, sameKindOfDay: "weekday", sustainableBps: 12e6 });
    const fewer = sustainableRate([...evening.slice(0, 4), morning, saturday], question);
    expect(fewer).toMatchObject({ nearShow: 5, used: 5, sameKindOfDay: null, sustainableBps: 3e6 });
    const tooFew = sustainableRate([...evening.slice(0, 3), morning], question);
    expect(tooFew).toMatchObject({ nearShow: 3, used: 4, allHours: true, sustainableBps: 2e6 });
  });

  test("old measurements count only when there are no newer ones; floors never count; the reserve can be set", () => {
    const old = evenings([4, 4, 4, 4, 4]).map((r) => ({ ...r, takenAtMs: Date.parse("2026-03-10T19:00:00Z") }));
    const fresh = evenings([9, 9, 9, 9, 9]);
    expect(sustainableRate([...old, ...fresh], question)).toMatchObject({ aged: 5, sustainableBps: 9e6 });
    expect(sustainableRate(old, question)).toMatchObject({ sustainableBps: 4e6 });
    const floor = measured("2026-06-09T19:00:00Z", 1, { floor: true });
    expect(sustainableRate([...fresh, floor], question)).toMatchObject({ floors: 1, sustainableBps: 9e6 });
    expect(sustainableRate(fresh, { ...question, reserveOverride: 0.1 })).toMatchObject({
      ruleReserve: 0.35,
      reserve: 0.1,
      usableBps: 8.1e6,
    });
  });

  test("a slower test never raises it within one bracket of n, a faster one never lowers it", () => {
    const brackets = [
      [1, 3],
      [5, 27],
      [29, 80],
    ] as const;
    fc.assert(
      fc.property(fc.constantFrom(...brackets), fc.infiniteStream(fc.integer({ min: 1, max: 100_000 })), ([low, high], stream) => {
        const n = low + (stream.next().value % (high - low + 1));
        const rates = Array.from({ length: n }, () => stream.next().value as number);
        const before = boundOf(rates).rateBps ?? 0;
        expect(boundOf([...rates, Math.max(1, Math.min(...rates) - 1)]).rateBps ?? 0).toBeLessThanOrEqual(before);
        expect(boundOf([...rates, Math.max(...rates) + 1]).rateBps ?? 0).toBeGreaterThanOrEqual(before);
      }),
    );
  });

  test("the clock is the venue's own, through the change of autumn", () => {
    // In London 25 October 2026 has two 01:30s; 18:30 UTC is 19:30 the day before and 18:30 the day after.
    expect(localTime("2026-10-24T18:30:00Z", "Europe/London")).toMatchObject({ minuteOfDay: 19 * 60 + 30, kind: "weekend" });
    expect(localTime("2026-10-26T18:30:00Z", "Europe/London")).toMatchObject({ minuteOfDay: 18 * 60 + 30, kind: "weekday" });
    expect(nearSpan(10, 23 * 60, 90, 30)).toBe(true);
    expect(nearSpan(12 * 60, 23 * 60, 90, 30)).toBe(false);
    expect(nearSpan(3, 0, 1440, 0)).toBe(true);
  });

  test("hours of the day gather in order", () => {
    const bands = byHour(
      place([measured("2026-06-09T19:10:00Z", 8), measured("2026-06-08T19:50:00Z", 6), measured("2026-06-09T07:00:00Z", 30)], question)
        .placed,
    );
    expect(bands).toEqual([
      { hour: 8, count: 1, leastBps: 30e6, tenthBps: 30e6, medianBps: 30e6, ninetiethBps: 30e6 },
      { hour: 20, count: 2, leastBps: 6e6, tenthBps: 6e6, medianBps: 6e6, ninetiethBps: 8e6 },
    ]);
  });
});

describe("path", () => {
  test("Mathis by hand: 1448 bytes, 50 ms, 1 % loss", () => {
    // (1448·8 / 0.05) · 1.224745 / 0.1 = 2,837,488 bit/s.
    expect(mathisCapBps(50, 0.01)).toBeCloseTo(2_837_488, -1);
    expect(mathisCapBps(50, 0)).toBeNull();
  });

  test("says which protocol the path favours", () => {
    const verdict = (rttMs: number, lossRatio: number) => pathVerdict([{ rttMs, lossRatio, excluded: null }], 6e6);
    expect(verdict(15, 0.0001)).toMatchObject({ favours: "rtmp", why: "clean", srtLatencyMs: 120 });
    expect(verdict(50, 0.01)).toMatchObject({ favours: "srt", why: "tcp-capped", srtLatencyMs: 200 });
    expect(pathVerdict([], 6e6)).toMatchObject({ favours: "either", why: "unmeasured" });
    expect(srtLatencyMs(50, 0.05)).toBeGreaterThan(srtLatencyMs(50, 0.01));
  });

  test("bonding costs a twentieth and loses its strongest member", () => {
    expect(bondedRate([4e6, 6e6, 10e6])).toEqual({ togetherBps: 19e6, withoutStrongestBps: 9.5e6 });
    expect(bondedRate([])).toEqual({ togetherBps: 0, withoutStrongestBps: 0 });
  });
});

describe("stand-in line", () => {
  const model: LineModel = {
    meanBps: 10e6,
    daily: { share: 0, bestMinute: 0 },
    crowd: { share: 0.5, fromMinute: 1110, fullMinute: 1170, untilMinute: 1410 },
    wander: { rho: 0.9, sigma: 0.01 },
    outage: { perSecond: 0.01, endsPerSecond: 0.1, leftShare: 0 },
    loss: { toBad: 0.01, toGood: 0.1, good: 0, bad: 0.05 },
    rttMs: 20,
  };
  const run = (seed: number, seconds: number, minute: number) => {
    const random = seeded(seed);
    let state = lineAtRest;
    return Array.from({ length: seconds }, () => {
      const next = lineStep(model, state, minute, random);
      state = next.state;
      return next.second;
    });
  };

  test("repeats exactly for a seed and differs for another", () => {
    expect(run(7, 300, 600)).toEqual(run(7, 300, 600));
    expect(run(7, 300, 600)).not.toEqual(run(8, 300, 600));
  });

  test("keeps its long-run shares: outages 1/11 of the time, bad loss 1/11 of the time", () => {
    const seconds = run(3, 60_000, 600);
    const share = (test: (s: (typeof seconds)[number]) => boolean) => seconds.filter(test).length / seconds.length;
    expect(share((s) => s.out)).toBeCloseTo(1 / 11, 1);
    expect(share((s) => s.lossRatio > 0)).toBeCloseTo(1 / 11, 1);
  });

  test("the crowd fills, stays and leaves", () => {
    expect([1100, 1140, 1170, 1300, 1410].map((m) => crowdShare(model.crowd, m))).toEqual([0, 0.25, 0.5, 0.5, 0]);
  });

  test("capacity is shared fairly: never more than asked, never more than there is, nothing left while someone wants", () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1_000 }), fc.array(fc.integer({ min: 0, max: 500 }), { maxLength: 8 }), (capacity, wants) => {
        const given = shareCapacity(capacity, wants);
        const sum = given.reduce((a, b) => a + b, 0);
        expect(sum).toBeLessThanOrEqual(capacity + 1e-6);
        for (const [i, g] of given.entries()) expect(g).toBeLessThanOrEqual((wants[i] ?? 0) + 1e-9);
        const wanted = wants.reduce((a, b) => a + b, 0);
        expect(sum).toBeCloseTo(Math.min(capacity, wanted), 6);
      }),
    );
  });
});
