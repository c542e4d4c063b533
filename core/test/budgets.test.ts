import fc from "fast-check";
import { budgetRules, dataBudget, delayBudget, delaySumMs, diskBudget, plannedS, serviceCost } from "../fit/budgets";
import { settings, shippedKit, shippedSheets, uplink } from "./kit";

const oriel = shippedSheets["oriel-public"];
const halyard = shippedSheets["halyard-relay"];
const base = {
  settings,
  encoder: shippedKit["desk-encoder"],
  sheet: oriel,
  rttMs: 40,
  lossRatio: 0.001,
  latencyMode: null,
  addedDelayS: 0,
};

describe("delay, lens to viewer", () => {
  test("worked by hand: 25 frames/s, two B-frames, software, RTMP", () => {
    const { toViewer, toPreview } = delayBudget(base);
    const mode = oriel.latencyModes[0];
    expect(toViewer).toEqual([
      { part: "held frames", ms: 80 },
      { part: "look-ahead", ms: 400 },
      { part: "B-frames", ms: 80 },
      { part: "send buffer", ms: 500 },
      { part: "half a round trip", ms: 20 },
      { part: "platform and player", ms: (mode?.delayS ?? 0) * 1000 },
    ]);
    expect(delaySumMs(toPreview ?? [])).toBe(80 + 400 + 80 + 500 + 20 + 2 * 2_000);
  });

  test("SRT waits its latency instead; a field pack looks nowhere ahead; an added delay is added", () => {
    const { toPreview } = delayBudget({
      ...base,
      settings: { ...settings, protocol: "srt", bFrames: 0 },
      encoder: shippedKit["field-pack"],
      sheet: halyard,
    });
    expect(toPreview?.map((p) => [p.part, p.ms])).toEqual([
      ["held frames", 80],
      ["SRT latency", 160],
      ["preview player", 4_000],
    ]);
    const late = delayBudget({ ...base, addedDelayS: 10 });
    expect(delaySumMs(late.toViewer ?? []) - delaySumMs(delayBudget(base).toViewer ?? [])).toBe(10_000);
  });

  test("another latency mode, a platform without preview, one that says nothing of its delay", () => {
    const slow = oriel.latencyModes.at(-1);
    expect(delayBudget({ ...base, latencyMode: slow?.name ?? "" }).toViewer?.at(-1)?.ms).toBe((slow?.delayS ?? 0) * 1000);
    expect(delayBudget({ ...base, sheet: shippedSheets.tallgate }).toPreview).toBeNull();
    expect(delayBudget({ ...base, sheet: shippedSheets["any-server"] }).toViewer).toBeNull();
  });
});

test("planned time: two hours of show, half an hour before, five minutes after", () => {
  expect(plannedS({ start: "2026-06-10T19:30:00+01:00", end: "2026-06-10T21:30:00+01:00" })).toBe(2 * 3600 + 35 * 60);
});

describe("data on metered uplinks", () => {
  const metered = (allowanceGb: number | null, usedGb: number, pricePerGb: number | null) =>
    uplink({ id: "hotspot", metered: { allowanceGb, usedGb, pricePerGb } });
  test("worked by hand: 5 Mb/s for an hour is 2.25 GB, and a tenth more", () => {
    const [found] = dataBudget(
      [metered(50, 6.2, 4), uplink()],
      new Map([
        ["hotspot", 5e6],
        ["hall", 5e6],
      ]),
      3600,
    );
    expect(found).toEqual({
      uplinkId: "hotspot",
      bytes: 2_475_000_000,
      leftBytes: expect.closeTo(43.8e9, 0),
      price: expect.closeTo(9.9, 6),
      over: false,
    });
  });
  test("over the allowance, without one, without a price, and unused", () => {
    expect(dataBudget([metered(8, 6.2, null)], new Map([["hotspot", 5e6]]), 3600)).toMatchObject([{ over: true, price: null }]);
    expect(dataBudget([metered(null, 6.2, 4)], new Map([["hotspot", 5e6]]), 3600)).toMatchObject([{ over: false, leftBytes: null }]);
    expect(dataBudget([metered(8, 6.2, 4)], new Map(), 3600)).toEqual([]);
  });
});

describe("disk for a recording", () => {
  test("worked by hand: 25 Mb/s for three hours is 35.4 GB; a card that splits files at 4 GB makes nine of them", () => {
    const [card] = diskBudget(shippedKit["rack-two-way"], budgetRules.recordBps, 3 * 3600);
    expect(card).toMatchObject({ bytes: 35_437_500_000, fits: true, files: 9 });
    expect(card?.splitEveryS).toBeCloseTo(4_294_967_295 / 3_281_250, 3);
    expect(diskBudget({ recordings: [{ name: "d", kind: "disk", freeBytes: 35e9, maxFileBytes: null }] }, 25e6, 3 * 3600)).toMatchObject([
      { fits: false, files: 1, splitEveryS: null },
    ]);
  });
  test("more bitrate or more time never takes less", () => {
    const rates = fc.integer({ min: 1, max: 100_000_000 });
    fc.assert(
      fc.property(rates, rates, fc.nat(40_000), (rate, more, seconds) => {
        const [a, b] = [rate, rate + more].map((r) => diskBudget(shippedKit["rack-two-way"], r, seconds)[0]);
        expect(b?.bytes).toBeGreaterThanOrEqual(a?.bytes ?? 0);
        expect(b?.files).toBeGreaterThanOrEqual(a?.files ?? 0);
      }),
    );
  });
});

test("a relay costs by the hour of the planned time", () => {
  expect(serviceCost(halyard, 9_300)).toBeCloseTo(6.2, 6);
  expect(serviceCost(oriel, 9_300)).toBeNull();
});
