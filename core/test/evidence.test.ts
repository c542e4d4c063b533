import type { LineTest } from "@ukaza/contract/lineTest";
import fc from "fast-check";
import { feedLoad } from "../media/load";
import { analyse } from "../survey/analyse";
import { bondedOf, bondedVerdict } from "../survey/bonded";
import { carriesOf } from "../survey/carries";
import { contentKey } from "../survey/contentKey";
import { levelAfter, nextLevel } from "../survey/level";
import { localTime } from "../survey/localTime";
import type { SurveyQuestion } from "../survey/place";
import { type Reading, readingOf } from "../survey/reading";
import { nearestRegions } from "../survey/regions";
import { reservedAt, reservedDuring } from "../survey/reserved";
import { sustainableRate } from "../survey/sustainable";
import { dueNow, nearShowCount, testBytes, timesEvery } from "../survey/testPlan";
import { settings as deskSettings, measured as measurement, oriel } from "./kit";

const measured = (...given: Parameters<typeof measurement>): Reading => readingOf(measurement(...given));
const show = { start: "2026-06-10T18:30:00Z", end: "2026-06-10T20:30:00Z" };
const question: SurveyQuestion = { show, timeZone: "Europe/London", asOf: "2026-06-10T12:00:00Z", reserveOverride: null };
const evening = (mbps: number, day = 9, minute = 0, more = {}) =>
  measured(`2026-06-${String(day).padStart(2, "0")}T19:${String(minute).padStart(2, "0")}:00Z`, mbps, more);
const evenings = (n: number, mbps = 10) => Array.from({ length: n }, (_, i) => evening(mbps + i, 9 - (i % 2), i % 60));

describe("what is missing for the next level", () => {
  test("by hand: how many more, and what they give", () => {
    expect(nextLevel({ all: 0, near: 0, sameKind: 0 }, "weekday")).toMatchObject({ more: 1, evidence: "few", reserve: 0.5 });
    expect(nextLevel({ all: 2, near: 2, sameKind: 2 }, "weekday")).toMatchObject({ more: 3, evidence: "minimum", reserve: 0.35 });
    expect(nextLevel({ all: 17, near: 17, sameKind: 17 }, "weekend")).toMatchObject({
      more: 12,
      evidence: "interval",
      reserve: 0.2,
      kindOfDay: "weekend",
    });
    expect(nextLevel({ all: 40, near: 29, sameKind: 29 }, "weekday")).toBeNull();
    // Forty tests in the morning and three in the evening: two more, and only the evening counts.
    expect(nextLevel({ all: 43, near: 3, sameKind: 3 }, "weekday")).toMatchObject({ more: 2, leavesAllHours: true, evidence: "minimum" });
    // Twenty evenings of weekends for a show on a weekday: five on a weekday narrow it, 29 make the interval.
    expect(nextLevel({ all: 20, near: 20, sameKind: 0 }, "weekday")).toMatchObject({ more: 29, evidence: "interval" });
  });

  test("is the least number that does it, whatever there is", () => {
    fc.assert(
      fc.property(fc.nat(60), fc.nat(60), fc.nat(60), (a, b, c) => {
        const [sameKind, near, all] = [a, b, c].sort((x, y) => x - y) as [number, number, number];
        const counts = { all, near, sameKind };
        const next = nextLevel(counts, "weekday");
        const now = levelAfter(counts, 0);
        if (!next) return void expect(now).toMatchObject({ evidence: "interval", allHours: false });
        const then = levelAfter(counts, next.more);
        expect({ evidence: next.evidence, ruleReserve: next.reserve }).toMatchObject({
          evidence: then.evidence,
          ruleReserve: then.ruleReserve,
        });
        if (now.allHours && now.used > 0 && next.leavesAllHours) expect(then.allHours).toBe(false);
        else expect(then.ruleReserve < now.ruleReserve || now.evidence === "none").toBe(true);
      }),
    );
  });
});

describe("monotone", () => {
  test("a slow measurement never raises, a fast one never lowers, within one bracket, through the whole analysis", () => {
    const bracket = fc.constantFrom([1, 3] as const, [5, 27] as const, [29, 60] as const);
    const rate = fc.integer({ min: 1, max: 100 });
    fc.assert(
      fc.property(bracket, fc.infiniteStream(rate), fc.nat(3), ([least, most], stream, reserved) => {
        const n = least + (stream.next().value % (most - least + 1));
        const rates = Array.from({ length: n }, () => stream.next().value as number);
        const all = rates.map((mbps, i) => evening(mbps, 9 - (i % 2), i % 60));
        const asked =
          reserved === 0 ? question : { ...question, reserved: [{ from: "19:45", until: "23:00", rateBps: reserved * 1e6, note: "" }] };
        const before = sustainableRate(all, asked).sustainableBps ?? 0;
        const slower = sustainableRate([...all, evening(0.5)], asked);
        const faster = sustainableRate([...all, evening(500)], asked);
        expect(slower.sustainableBps).toBeLessThanOrEqual(before);
        expect(faster.sustainableBps).toBeGreaterThanOrEqual(before);
        const floor = sustainableRate([...all, evening(0.5, 9, 5, { floor: true })], asked);
        expect(floor.sustainableBps).toBe(before);
        const out = sustainableRate([...all, evening(0.5, 9, 5, { excluded: "the cable was out" })], asked);
        expect(out).toMatchObject({ sustainableBps: before, excluded: 1, total: n + 1 });
      }),
      { numRuns: 200 },
    );
  });
});

describe("analysis", () => {
  const mixed = [
    ...evenings(30).map((r) => ({ ...r, ownIpBps: 20e6 + (r.ownIpBps % 3e6) })),
    evening(1, 8, 3),
    measured("2026-06-08T08:00:00Z", 40),
    evening(9, 7, 30, { excluded: "door shut" }),
  ];
  const found = analyse(mixed, question);

  test("an outlier is marked and still counts; the excluded one stays on the list and does not", () => {
    const slow = mixed[30] as Reading;
    expect(found.outliers.get(slow.id)).toBe("low");
    expect(found.counting.has(slow.id)).toBe(true);
    expect(found.result).toMatchObject({ total: 33, excluded: 1, outliersLow: 1, used: 31, sustainableBps: 1e6 });
    expect(found.placed).toHaveLength(33);
  });

  test("equal rates make no outliers of themselves; one far from many equals is one", () => {
    const equal = Array.from({ length: 8 }, (_, i) => evening(10, 9, i));
    expect(analyse(equal, question).outliers.size).toBe(0);
    const odd = evening(30, 9, 20);
    expect([...analyse([...equal, odd], question).outliers]).toEqual([[odd.id, "high"]]);
  });

  test("days and distribution hold every telling test once", () => {
    expect(found.days.map((d) => d.day)).toEqual(["2026-06-09", "2026-06-08"]);
    expect(found.days[1]).toMatchObject({ kind: "weekday", leastBps: 1e6, leastNearBps: 1e6, count: 17, nearShow: 16 });
    expect(found.bins.reduce((sum, bin) => sum + bin.count, 0)).toBe(32);
    expect(found.bins.reduce((sum, bin) => sum + bin.counting, 0)).toBe(31);
    for (const [i, bin] of found.bins.entries()) {
      expect(bin.toBps - bin.fromBps).toBe(5e6);
      expect(bin.fromBps).toBe(found.bins[0] ? found.bins[0].fromBps + i * 5e6 : 0);
    }
  });

  test("another show window counts other tests", () => {
    const morning = { start: "2026-06-10T07:30:00Z", end: "2026-06-10T08:30:00Z" };
    expect(analyse(mixed, { ...question, show: morning }).result).toMatchObject({ nearShow: 1, allHours: true });
  });
});

describe("the clock", () => {
  test("agrees with the system's own calendar over the changes of two years, in several zones", () => {
    const zones = ["Europe/London", "America/New_York", "Australia/Lord_Howe", "Asia/Kathmandu", "Africa/Casablanca"];
    const formats = new Map(
      zones.map((zone) => [
        zone,
        new Intl.DateTimeFormat("en-GB", { timeZone: zone, dateStyle: "short", timeStyle: "short", hourCycle: "h23" }),
      ]),
    );
    fc.assert(
      fc.property(fc.constantFrom(...zones), fc.integer({ min: Date.parse("2025-06-01"), max: Date.parse("2027-06-01") }), (zone, ms) => {
        const { day, minuteOfDay } = localTime(ms, zone);
        const two = (n: number) => String(Math.floor(n)).padStart(2, "0");
        const [y, m, d] = day.split("-");
        expect(`${d}/${m}/${y}, ${two(minuteOfDay / 60)}:${two(minuteOfDay % 60)}`).toBe(formats.get(zone)?.format(ms));
      }),
      { numRuns: 3_000 },
    );
  });

  test("the night of autumn: an hour on the wall is two, and both stand in the same hour of the day", () => {
    const [first, second] = ["2026-10-25T00:30:00Z", "2026-10-25T01:30:00Z"].map((at) => localTime(at, "Europe/London"));
    expect(first).toEqual(second);
    const winter = { ...question, show: { start: "2026-10-26T19:30:00Z", end: "2026-10-26T21:30:00Z" }, asOf: "2026-10-26T00:00:00Z" };
    // 18:40 UTC is 19:40 on the wall before the change and 18:40 after; both are near a show at 19:30.
    const both = [measured("2026-10-24T16:50:00Z", 9), measured("2026-10-25T17:50:00Z", 9)];
    expect(sustainableRate(both, winter).nearShow).toBe(0);
    const later = [measured("2026-10-24T17:10:00Z", 9), measured("2026-10-25T18:10:00Z", 9)];
    expect(sustainableRate(later, winter).nearShow).toBe(2);
  });
});

describe("set aside for others", () => {
  const guests = [
    { from: "19:00", until: "23:00", rateBps: 4e6, note: "bar" },
    { from: "22:00", until: "02:00", rateBps: 3e6, note: "night backup" },
  ];
  test("by the minute, past midnight, and the most of a span", () => {
    expect([18 * 60, 19 * 60, 22.5 * 60, 60, 3 * 60].map((m) => reservedAt(guests, m))).toEqual([0, 4e6, 7e6, 3e6, 0]);
    expect(reservedDuring(guests, 20 * 60, 60)).toBe(4e6);
    expect(reservedDuring(guests, 21 * 60, 120)).toBe(7e6);
    expect(reservedDuring(guests, 12 * 60, 60)).toBe(0);
  });
  test("a test of the free hours counts less, one of the same hours as it is, and never below nothing", () => {
    const asked = { ...question, reserved: guests.slice(0, 1) };
    const found = analyse(
      [measured("2026-06-09T17:30:00Z", 20), measured("2026-06-09T19:30:00Z", 18), measured("2026-06-09T17:40:00Z", 1)],
      asked,
    );
    expect(found.placed.map((p) => p.atShowBps)).toEqual([16e6, 18e6, 0]);
    expect(found.result.reservedBps).toBe(4e6);
  });
});

describe("bonded group", () => {
  const resultOf = (n: number, mbps: number) => sustainableRate(evenings(n, mbps), question);
  const members = [
    { id: "a", name: "Modem 1", result: resultOf(6, 4) },
    { id: "b", name: "Modem 2", result: resultOf(30, 6) },
  ];
  const none = sustainableRate([], question);
  test("adds its members less a twentieth, with the reserve of the least certain, and what is left without the strongest", () => {
    const group = bondedOf(members);
    expect(group).toMatchObject({ togetherBps: 9.5e6, withoutStrongestBps: 3.8e6, strongest: "Modem 2" });
    expect(bondedVerdict(none, group, members)).toMatchObject({
      basis: "members",
      evidence: "minimum",
      reserve: 0.35,
      sustainableBps: 9.5e6,
      usableBps: 6_175_000,
    });
  });
  test("is unknown while a member is; its own tests come first", () => {
    const half = bondedOf([...members, { id: "c", name: "Modem 3", result: none }]);
    expect(half).toMatchObject({ togetherBps: null, strongest: null });
    expect(bondedVerdict(none, half, members)).toMatchObject({ evidence: "none", usableBps: null });
    expect(bondedVerdict(resultOf(5, 3), bondedOf(members), members)).toMatchObject({ basis: "tests", sustainableBps: 3e6 });
  });
});

describe("what a line carries", () => {
  const clean = { rttMs: 15, lossRatio: 0.0001 };
  test("the largest size and rate, by the load of its recommended bitrate, and how many fit", () => {
    const { largest, kinds, leastLoadBps } = carriesOf(oriel, 20e6, clean);
    expect(largest).toMatchObject({ width: 1920, height: 1080, at: "recommended" });
    for (const kind of kinds) {
      const load = feedLoad({
        ...deskSettings,
        ...kind,
        audioBps: oriel.audio.recommendedBps ?? 0,
        profile: "high",
        keyframeS: oriel.keyframe.recommendedS,
      }).loadBps;
      // Settings differ in nothing that the load depends on but B-frames and channels.
      expect(Math.abs(kind.loadBps / load - 1)).toBeLessThan(0.01);
      expect(kind.fits).toBe(Math.floor(20e6 / kind.loadBps));
    }
    expect(kinds.map((k) => k.width * k.height)).toEqual([...kinds.map((k) => k.width * k.height)].sort((a, b) => b - a));
    expect(carriesOf(oriel, leastLoadBps, clean)).toMatchObject({ largest: null, utmost: { at: "minimum", loadBps: leastLoadBps } });
    expect(carriesOf(oriel, leastLoadBps - 1, clean).utmost).toBeNull();
  });
  test("more line never carries less, and a path that caps TCP carries no RTMP", () => {
    const areas = (bps: number) => {
      const { largest, utmost } = carriesOf(oriel, bps, clean);
      return [largest, utmost].map((kind) => (kind ? kind.width * kind.height : 0)) as [number, number];
    };
    for (let bps = 500_000; bps < 14e6; bps += 250_000) {
      const [[easy, hard], [moreEasy, moreHard]] = [areas(bps), areas(bps + 250_000)];
      expect(moreEasy).toBeGreaterThanOrEqual(easy);
      expect(moreHard).toBeGreaterThanOrEqual(hard);
      expect(hard).toBeGreaterThanOrEqual(easy);
    }
    expect(carriesOf(oriel, 50e6, { rttMs: 300, lossRatio: 0.05 }).utmost).toBeNull();
  });
});

test("the nearest region is the one with the shortest newest round trip", () => {
  const sheet = {
    platform: { id: "relay", name: "Relay" },
    regions: [
      { id: "north", name: "North" },
      { id: "south", name: "South" },
      { id: "far", name: "Far" },
    ],
  };
  const trip = (regionId: string, rttMs: number, day: number, platformId = "relay") => ({
    platformId,
    regionId,
    rttMs,
    takenAt: `2026-06-0${day}T10:00:00Z`,
  });
  const found = nearestRegions(sheet, [trip("north", 10, 1), trip("north", 40, 2), trip("south", 22, 1), trip("far", 1, 1, "another")]);
  expect(found.measured.map((r) => [r.id, r.rttMs])).toEqual([
    ["south", 22],
    ["north", 40],
  ]);
  expect(found.unmeasured.map((r) => r.id)).toEqual(["far"]);
});

describe("a plan of tests", () => {
  const at = (time: string) => Date.parse(`2026-06-10T${time}:00Z`);
  test("every so many minutes, none gone by, never more than may be", () => {
    const times = timesEvery(at("16:00"), at("18:00"), 30, at("16:40"), 300);
    expect(times).toEqual([at("17:00"), at("17:30"), at("18:00")]);
    expect(timesEvery(at("16:00"), at("18:00"), 1, at("15:00"), 10)).toHaveLength(10);
    expect(nearShowCount([at("10:00"), at("17:00"), at("18:00")], question)).toEqual({ near: 2, sameKind: 2 });
  });
  test("a test is due at its time and for two minutes; after that it was missed", () => {
    const test = (id: string, dueAt: string, state: LineTest["state"] = "planned") => ({ id, dueAt: `2026-06-10T${dueAt}:00Z`, state });
    const tests = [test("a", "17:00"), test("b", "17:28"), test("c", "17:30"), test("d", "17:31"), test("e", "17:30", "done")];
    expect(dueNow(tests, at("17:30"))).toEqual({ due: ["b", "c"], missed: ["a"] });
  });
  test("its cost: seconds times rate, and the probes", () => {
    // 12 s at 8 Mb/s are 12 MB; 250 probes of 188 bytes are 47 kB.
    expect(testBytes(8e6)).toBe(12_047_000);
  });
});

test("two measurements are one when everything that was found is the same", () => {
  const m = measurement("2026-06-09T19:00:00Z", 9, { rttMs: 14 });
  expect(contentKey(m)).toBe(contentKey({ ...m, takenAt: "2026-06-09T20:00:00+01:00", source: "iperf3", excluded: "door shut" }));
  expect(contentKey(m)).not.toBe(contentKey({ ...m, rttMs: 15 }));
  expect(contentKey(m)).not.toBe(contentKey({ ...m, floor: true }));
});
