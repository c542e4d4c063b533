import { BLOCK_S, Evening } from "../fit/evening";
import { chanceBetween, Forecast, type ForecastPlan, type ForecastQuestion } from "../fit/forecast";
import { type ForecastPart, forecastLine } from "../fit/forecastLine";
import { uplink, verdict } from "./kit";

const quiet: ForecastPart = {
  levels: [{ fromBps: 10e6, toBps: 10e6, tests: 30 }],
  outage: { perSecond: 0, endsPerSecond: 1, leftShare: 0 },
  wander: { rho: 0, sigma: 0 },
  levelSpread: 0,
};
const failover = { brokenForS: 5, maxSwitches: 3, withinS: 600 };
interface Feeds {
  main?: { line: string; loadBps: number };
  backup?: { line: string; loadBps: number };
}

/** One destination's feeds as a plan. */
const plan = ({ main = { line: "a", loadBps: 6e6 }, backup }: Feeds): ForecastPlan => ({
  loads: [main, ...(backup ? [backup] : [])],
  routes: [{ main: main.line, backup: backup?.line ?? null }],
});
const asked = ({ main, backup, ...more }: Partial<ForecastQuestion> & Feeds = {}, part: Partial<ForecastPart> = {}): ForecastQuestion => ({
  seconds: 600,
  seed: 7,
  lines: [
    { id: "a", parts: [{ ...quiet, ...part }], tests: 30 },
    { id: "b", parts: [quiet], tests: 30 },
  ],
  plans: [plan({ ...(main ? { main } : {}), ...(backup ? { backup } : {}) })],
  failover,
  ...more,
});

describe("an evening in blocks", () => {
  const mean = (all: readonly number[]) => all.reduce((a, b) => a + b, 0) / all.length;
  /** Capacity second by second, and whether the line was broken off. */
  const run = (part: ForecastPart, seed: number, blocks: number) => {
    const evening = new Evening({ id: "a", parts: [part], tests: 1 }, seed);
    const [bps, out]: [number[], number[]] = [[], []];
    let below = 0;
    for (let n = 0; n < blocks; n++) {
      evening.next();
      evening.series();
      bps.push(...evening.capacityBps);
      out.push(...evening.out);
      below += evening.capacityBps.filter((value) => value < evening.leastBps).length;
    }
    expect(below).toBe(0);
    return { bps, out };
  };

  test("wanders as the line's model does second by second: the same spread and the same memory, within blocks and across", () => {
    const wander = { rho: 0.9, sigma: 0.02 };
    const { bps } = run({ ...quiet, wander }, 3, 6_000);
    const x = bps.map((value) => value / 10e6 - 1);
    expect(mean(x)).toBeCloseTo(0, 2);
    const variance = mean(x.map((v) => v * v));
    expect(variance / (wander.sigma ** 2 / (1 - wander.rho ** 2))).toBeCloseTo(1, 1);
    for (const lag of [1, 5, 16, 20]) {
      const together = mean(x.slice(lag).map((v, i) => v * (x[i] as number)));
      expect(Math.abs(together / variance - wander.rho ** lag)).toBeLessThan(0.05);
    }
    // Each second's own noise is the model's, wherever in a block it stands.
    for (let at = 0; at < BLOCK_S; at++) {
      const noise = x.slice(1).flatMap((v, i) => (i % BLOCK_S === at ? [v - wander.rho * (x[i] as number)] : []));
      expect(Math.sqrt(mean(noise.map((v) => v * v))) / wander.sigma).toBeCloseTo(1, 1);
    }
  });

  test("breaks off and comes back as often as the chain says", () => {
    const { bps, out } = run({ ...quiet, outage: { perSecond: 0.01, endsPerSecond: 0.05, leftShare: 0.2 } }, 5, 12_000);
    expect(Math.abs(mean(out) - 0.01 / 0.06)).toBeLessThan(0.01);
    const begins = out.filter((o, i) => o === 1 && out[i - 1] === 0).length;
    expect(begins / out.filter((o) => o === 0).length).toBeCloseTo(0.01, 2);
    expect(new Set(bps.map((value, i) => `${out[i]} ${value}`))).toEqual(new Set(["0 10000000", "1 2000000"]));
  });

  test("is the same whether its seconds are asked for or not", () => {
    const part = { ...quiet, wander: { rho: 0.98, sigma: 0.02 }, outage: { perSecond: 0.01, endsPerSecond: 0.1, leftShare: 0 } };
    const whole = run(part, 9, 40).bps.slice(-BLOCK_S);
    const evening = new Evening({ id: "a", parts: [part], tests: 1 }, 9);
    for (let n = 0; n < 40; n++) evening.next();
    evening.series();
    expect([...evening.capacityBps]).toEqual(whole);
  });
});

describe("forecast", () => {
  test("is the same for the same seed, however it is cut, and another for another", () => {
    const part = { outage: { perSecond: 0.002, endsPerSecond: 0.1, leftShare: 0.1 }, wander: { rho: 0.98, sigma: 0.05 } };
    const whole = new Forecast(asked({}, part)).run(60);
    const cut = new Forecast(asked({}, part));
    cut.run(7);
    cut.run(30);
    expect(cut.run(23)).toEqual(whole);
    expect(new Forecast(asked({ seed: 8 }, part)).run(60)).not.toEqual(whole);
  });

  test("agrees with the closed form where outages never end: a show holds if none begins in time to be seen", () => {
    // An outage in second s is judged strained at s + 1: two samples. So it must not begin in the first T − 1 seconds.
    const perSecond = 0.001;
    const shows = 1_500;
    const [{ heldAlone } = { heldAlone: -1 }] = new Forecast(asked({}, { outage: { perSecond, endsPerSecond: 0, leftShare: 0 } })).run(
      shows,
    );
    const exact = (1 - perSecond) ** (600 - 1);
    const [low, high] = chanceBetween(heldAlone, shows);
    expect(low).toBeLessThan(exact);
    expect(high).toBeGreaterThan(exact);
  });

  test("a level below the load never holds, one above it always does; who falls short is a sag", () => {
    const half = new Forecast(asked({ main: { line: "a", loadBps: 13e6 } })).run(20);
    expect(half).toMatchObject([{ held: 0, notSteadyS: expect.any(Number), first: [{ line: "a", kind: "sag", shows: 20 }] }]);
    expect(new Forecast(asked()).run(20)).toMatchObject([{ held: 20, heldAlone: 20, notSteadyS: 0, first: [] }]);
  });

  test("failover bounds the seconds lost: five broken ones before it switches, and those judged before", () => {
    const outage = { perSecond: 0.001, endsPerSecond: 0, leftShare: 0 };
    const backup = { line: "b", loadBps: 6e6 };
    const [result] = new Forecast(asked({ backup }, { outage })).run(200);
    if (!result) throw new Error("no result");
    expect(result.notSteadyAloneS).toBeGreaterThan(result.notSteadyS * 5);
    // Strained after 2 s, broken after 4, switched after 5 more: never more than 8 s of one outage are seen.
    expect(result.notSteadyS).toBeLessThanOrEqual(8 * (200 - result.heldAlone));
    expect(result.first).toEqual([{ line: "a", kind: "outage", shows: 200 - result.heldAlone }]);
  });

  test("plans go through the same evenings: a lighter one never fares worse", () => {
    const part = { wander: { rho: 0.98, sigma: 0.06 } };
    const question = asked({}, part);
    const plans = [5e6, 7e6, 9e6].map((loadBps) => plan({ main: { line: "a", loadBps } }));
    const seconds = new Forecast({ ...question, plans }).run(40).map((r) => r.notSteadyS);
    expect([...seconds].sort((a, b) => a - b)).toEqual(seconds);
    expect(seconds[2]).toBeGreaterThan(0);
    expect(new Forecast({ ...question, plans: plans.slice(1, 2) }).run(40)[0]?.notSteadyS).toBe(seconds[1]);
  });

  test("a line is fitted to its own tests near the show; a group without any to its members", () => {
    const bins = [
      { fromBps: 8e6, toBps: 9e6, count: 5, counting: 3 },
      { fromBps: 9e6, toBps: 10e6, count: 4, counting: 0 },
    ];
    const survey = (id: string, more: object) =>
      ({ uplink: uplink({ id, ...more }), result: verdict(), bins: "members" in more ? [] : bins }) as never;
    const surveys = [
      survey("m1", { kind: "cellular" }),
      survey("m2", { kind: "cellular" }),
      survey("g", { kind: "bonded", members: ["m1", "m2"] }),
    ];
    expect(forecastLine("m1", surveys)).toMatchObject({ tests: 3, parts: [{ levels: [{ fromBps: 8e6, toBps: 9e6, tests: 3 }] }] });
    expect(forecastLine("g", surveys)?.parts).toHaveLength(2);
    expect(forecastLine("none", surveys)).toBeNull();
    expect(forecastLine("g", surveys.slice(2))).toBeNull();
  });

  test("feeds of several destinations suffer on their own line alone; the show holds only if all do", () => {
    const outage = { perSecond: 0.001, endsPerSecond: 0.05, leftShare: 0 };
    const both: ForecastPlan = {
      loads: [
        { line: "a", loadBps: 8e6 },
        { line: "b", loadBps: 4e6 },
      ],
      routes: [
        { main: "a", backup: null },
        { main: "b", backup: null },
      ],
    };
    const alone = (line: string, loadBps: number): ForecastPlan => ({ loads: [{ line, loadBps }], routes: [{ main: line, backup: null }] });
    const question = { ...asked({}, { outage }), plans: [both, alone("a", 8e6), alone("b", 4e6)] };
    const [all, a, b] = new Forecast(question).run(200);
    expect(b?.held).toBe(200);
    expect(a?.held).toBeLessThan(200);
    expect(all?.held).toBe(a?.held);
    expect(all?.notSteadyS).toBe(a?.notSteadyS);
    expect(() => new Forecast({ ...question, plans: [alone("c", 1)] }).run(1)).toThrow(RangeError);
  });
});
