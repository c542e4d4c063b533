import { readFileSync } from "node:fs";
import { join } from "node:path";
import type { FitNow } from "@ukaza/contract/fitChoice";
import type { Problem } from "@ukaza/contract/problem";
import { type MeasurementPage, readMeasurementEntry, type Survey } from "@ukaza/contract/survey";
import type { Uplink, Venue, VenueListed } from "@ukaza/contract/venue";
import { measurementsOf } from "@ukaza/core/formats/fileReading";
import { readMeasurements } from "@ukaza/core/formats/measurements";
import { contentKey } from "@ukaza/core/survey/contentKey";
import { openDb } from "../db/open";
import { startWorld, type World } from "./world";

const E = "/events/opening-concert";
let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(async () => {
  await world.close();
});

const surveyOf = async (path: string) => (await world.call<Survey>("GET", path)).body;
const uplinkIn = (survey: Survey, id: string) => {
  const found = survey.uplinks.find((u) => u.uplink.id === id);
  if (!found) throw new Error(`no uplink ${id}`);
  return found;
};
const listOf = async (uplinkId: string, query: string) =>
  (await world.call<MeasurementPage>("GET", `/uplinks/${uplinkId}/measurements?${query}`)).body;
const wired = {
  name: "Vestry socket",
  kind: "wired",
  note: "",
  metered: null,
  reserved: [],
  members: [],
  reflector: null,
  localAddress: null,
};
const test10 = (minute: number, mbps: number, more = {}) => ({
  takenAt: `2026-06-01T19:${String(minute).padStart(2, "0")}:00.000Z`,
  rateBps: mbps * 1e6,
  layer: "ip",
  source: "csv",
  ...more,
});

describe("venues and uplinks last", () => {
  test("a venue and its uplinks are made, changed, put away and brought back", async () => {
    const made = (await world.call<{ id: string }>("POST", "/venues", { name: "Lighthouse Café", timeZone: "Europe/London", note: "" }))
      .body;
    expect(made.id).toBe("lighthouse-cafe");
    const twin = (await world.call<{ id: string }>("POST", "/venues", { name: "Lighthouse café", timeZone: "Europe/London", note: "" }))
      .body;
    expect(twin.id).toBe("lighthouse-cafe-2");
    const { id } = (await world.call<{ id: string }>("POST", `/venues/${made.id}/uplinks`, wired)).body;
    await world.call("POST", `/uplinks/${id}/measurements/batch`, { measurements: [test10(10, 8), test10(20, 9)] });
    await world.call("PUT", `/venues/${made.id}`, { name: "Lighthouse", timeZone: "America/New_York", note: "Up the stairs." });
    const changed = { ...wired, note: "behind the altar", metered: { allowanceGb: 5, usedGb: 1, pricePerGb: 2 } };
    await world.call("PUT", `/uplinks/${id}`, changed);
    const venue = (await world.call<Venue>("GET", `/venues/${made.id}`)).body;
    expect(venue).toMatchObject({
      name: "Lighthouse",
      timeZone: "America/New_York",
      uplinks: [{ id, note: "behind the altar", metered: { usedGb: 1 } }],
    });
    expect((await world.call("DELETE", `/uplinks/${id}`)).status).toBe(200);
    expect((await world.call<Venue>("GET", `/venues/${made.id}`)).body.uplinks).toEqual([]);
    await world.call("POST", `/uplinks/${id}/restore`);
    const survey = await surveyOf(`/venues/${made.id}/survey?from=14:30&until=16:00`);
    // 19:10 and 19:20 UTC are 15:10 and 15:20 in New York.
    expect(uplinkIn(survey, id).result).toMatchObject({ total: 2, nearShow: 2, evidence: "few" });
    expect((await world.call<VenueListed[]>("GET", "/venues")).body.find((v) => v.id === made.id)?.uplinks).toMatchObject([{ tests: 2 }]);
  });

  test("an event can bring an uplink of its own; others do not see it", async () => {
    const { id } = (await world.call<{ id: string }>("POST", `${E}/uplinks`, { ...wired, name: "Van's dish", kind: "satellite" })).body;
    expect(uplinkIn(await surveyOf(`${E}/survey`), id).uplink).toMatchObject({ eventId: "opening-concert", kind: "satellite" });
    expect((await surveyOf("/venues/harbour-hall/survey")).uplinks.map((u) => u.uplink.id)).not.toContain(id);
    await world.call("POST", `/uplinks/${id}/measurements/batch`, { measurements: [test10(10, 30)] });
    const fit = (await world.call<FitNow>("GET", `${E}/fit`)).body;
    expect(fit.problem?.uplinks.map((u) => u.id)).toContain(id);
    await world.call("DELETE", `/uplinks/${id}`);
  });

  test("a bonded group adds its members, takes only the venue's own, and keeps them from being fitted twice", async () => {
    const cliff = await surveyOf("/events/cliff-top-finale/survey");
    const group = uplinkIn(cliff, "cliff-bonded");
    const sum = group.bonded?.members.reduce((total, m) => total + (m.sustainableBps ?? 0), 0) ?? 0;
    expect(group.result).toMatchObject({ basis: "members", sustainableBps: Math.floor(sum * 0.95) });
    const fit = (await world.call<FitNow>("GET", "/events/cliff-top-finale/fit")).body;
    expect(fit.problem?.uplinks.map((u) => u.id)).toEqual(["cliff-bonded"]);
    expect(fit.unmeasured).toEqual(["Satellite terminal"]);
    const stray = await world.call("POST", "/venues/cliff-stage/uplinks", {
      ...wired,
      name: "Pack 2",
      kind: "bonded",
      members: ["cliff-modem-1", "hall-fibre"],
    });
    expect(stray.body.detail).toContain('"hall-fibre" is no uplink of this venue');
    const alone = await world.call("POST", "/venues/cliff-stage/uplinks", { ...wired, kind: "bonded", members: ["cliff-modem-1"] });
    expect(alone.body.detail).toContain("two members or more");
    expect((await world.call("DELETE", "/uplinks/cliff-modem-1")).body.detail).toBe("this uplink is bonded into Field pack");
  });

  test.each([
    ["PUT", "/uplinks/none", wired, 404, /no uplink "none"/],
    ["POST", "/venues/none/uplinks", wired, 404, /no venue "none"/],
    ["POST", "/venues", { name: " ", timeZone: "Europe/London" }, 422, /name/],
    ["POST", "/venues", { name: "X", timeZone: "Moon/Crater" }, 422, /not the name of a time zone/],
    ["PUT", "/uplinks/hall-fibre", { ...wired, reflector: "no port" }, 422, /host and port/],
    ["PUT", "/uplinks/hall-fibre", { ...wired, localAddress: "300.1.1.1" }, 422, /localAddress/],
    ["PUT", "/uplinks/hall-fibre", { ...wired, reserved: [{ from: "7pm", until: "23:00", rateBps: 1e6 }] }, 422, /time of day as 19:30/],
    ["PUT", "/uplinks/hall-fibre", { ...wired, members: ["hall-hotspot"] }, 422, /any other uplink has none/],
  ])("%s %s %j → %d", async (method, path, body, status, detail) => {
    const answer = await world.call(method, path, body);
    expect(answer.status).toBe(status);
    expect(answer.body.detail).toMatch(detail);
  });
});

describe("measurements come in once and stay", () => {
  const batch = (measurements: unknown[], importId: string | null = null) =>
    world.call<{ added: number; known: number } & Problem>("POST", "/uplinks/chapel-copper/measurements/batch", { measurements, importId });
  const total = async () => (await listOf("chapel-copper", "take=1")).total;

  test("a batch is whole or nothing; the same contents count once, also when both arrive together", async () => {
    const before = await total();
    const wrong = await batch([test10(1, 4), { ...test10(2, 4), rateBps: -1 }]);
    expect(wrong.status).toBe(422);
    expect(wrong.body.faults).toEqual(expect.arrayContaining([expect.objectContaining({ at: "measurements.1.rateBps" })]));
    expect(await total()).toBe(before);
    const future = await batch([{ ...test10(1, 4), takenAt: "2099-01-01T00:00:00Z" }]);
    expect(future.body.detail).toContain("future");
    const both = await Promise.all([batch([test10(1, 4), test10(2, 5)]), batch([test10(2, 5), test10(1, 4)])]);
    expect(both.map((a) => a.body.added).sort()).toEqual([0, 2]);
    expect((await batch([test10(1, 4), test10(1, 4)])).body).toEqual({ added: 0, known: 2 });
    expect(await total()).toBe(before + 2);
  });

  test("what is known is told by content, and an import can be taken back whole", async () => {
    const measurements = [test10(30, 6), test10(31, 6)];
    await batch(measurements.slice(0, 1), "import-a");
    const entry = readMeasurementEntry({ ...measurements[1] });
    const keys = measurements.map((m) => contentKey({ durationS: 10, floor: false, ...m } as never));
    const known = await world.call<{ known: string[] }>("POST", "/uplinks/chapel-copper/measurements/known", { keys });
    expect(entry.measurement && contentKey(entry.measurement)).toBe(keys[1]);
    expect(known.body.known).toEqual([keys[0]]);
    const before = await total();
    await batch([...measurements, test10(32, 6)], "import-b");
    expect((await world.call<{ removed: number }>("DELETE", "/uplinks/chapel-copper/imports/import-b")).body.removed).toBe(2);
    expect(await total()).toBe(before);
  });

  test("excluding needs a reason, moves the number, stays on the list, and is taken back", async () => {
    const measured = async () => uplinkIn(await surveyOf("/events/choral-evensong/survey"), "chapel-copper").result;
    const before = await measured();
    const slowest = (await listOf("chapel-copper", "event=choral-evensong&sort=rate&order=asc&show=counting&take=1")).rows[0];
    const path = `/measurements/${slowest?.id}/excluded`;
    expect((await world.call("PUT", path, { reason: " x " })).body.detail).toContain("why it does not count");
    expect((await world.call("PUT", path, { reason: "the cable was out" })).status).toBe(200);
    const without = await measured();
    expect(without).toMatchObject({ total: before.total, excluded: before.excluded + 1 });
    expect(without.sustainableBps ?? 0).toBeGreaterThan(before.sustainableBps ?? 0);
    expect((await listOf("chapel-copper", "show=excluded")).rows).toMatchObject([
      { id: slowest?.id, excluded: "the cable was out", counts: false },
    ]);
    await world.call("DELETE", path);
    expect(await measured()).toEqual(before);
    expect((await world.call("PUT", "/measurements/m-none/excluded", { reason: "because" })).status).toBe(404);
  });

  test("the list is sorted and cut by the server; what was not measured stands last", async () => {
    await batch([test10(40, 7, { rttMs: 5 })]);
    const up = await listOf("chapel-copper", "sort=rtt&order=asc&take=500");
    const down = await listOf("chapel-copper", "sort=rtt&order=desc&take=500");
    const trips = (page: MeasurementPage) => page.rows.flatMap((r) => (r.rttMs === null ? [] : [r.rttMs]));
    expect(trips(up)).toEqual([...trips(up)].sort((a, b) => a - b));
    expect(trips(down)).toEqual([...trips(up)].reverse());
    for (const page of [up, down]) expect(page.rows.at(-1)?.rttMs).toBeNull();
    const middle = await listOf("chapel-copper", "sort=rtt&order=asc&skip=3&take=2");
    expect(middle.rows).toEqual(up.rows.slice(3, 5));
    expect((await world.call("GET", "/uplinks/chapel-copper/measurements?take=9999")).status).toBe(422);
  });

  test("an export reads back into an empty uplink as the same state, exclusions and all", async () => {
    const iperf = readMeasurements(
      readFileSync(join(__dirname, "../../core/test/fixtures/hall-udp.json"), "utf8"),
      { timeZone: "UTC" },
      readMeasurementEntry,
    );
    await batch(measurementsOf(iperf));
    const [first] = (await listOf("chapel-copper", "take=1")).rows;
    await world.call("PUT", `/measurements/${first?.id}/excluded`, { reason: '=the "blue" lead; loose' });
    const source = await listOf("chapel-copper", "from=17:30&until=18:10&take=500");
    for (const as of ["csv", "json"]) {
      const text = await (await fetch(`${world.running.address}/api/uplinks/chapel-copper/measurements/export?as=${as}`)).text();
      const { id } = (await world.call<{ id: string }>("POST", "/venues/st-orrans-chapel/uplinks", { ...wired, name: `Copy ${as}` })).body;
      const measurements = measurementsOf(readMeasurements(text, { timeZone: "Europe/London" }, readMeasurementEntry));
      await world.call("POST", `/uplinks/${id}/measurements/batch`, { measurements });
      const copy = await listOf(id, "from=17:30&until=18:10&take=500");
      const bare = (page: MeasurementPage) => page.rows.map(({ id: _id, ...rest }) => rest);
      expect(bare(copy)).toEqual(bare(source));
      await world.call("DELETE", `/uplinks/${id}`);
    }
  });
});

describe("what the survey is asked", () => {
  test("other hours than the planned ones count other tests and leave the plan alone", async () => {
    const planned = uplinkIn(await surveyOf(`${E}/survey`), "hall-fibre").result;
    const morning = await surveyOf(`${E}/survey?from=10:00&until=12:00`);
    expect(uplinkIn(morning, "hall-fibre").result.sustainableBps ?? 0).toBeGreaterThan((planned.sustainableBps ?? 0) * 1.5);
    const night = await surveyOf(`${E}/survey?from=23:00&until=01:00`);
    expect(Date.parse(night.show.end) - Date.parse(night.show.start)).toBe(7_200_000);
    expect((await world.call("GET", `${E}/survey?from=25:00`)).status).toBe(422);
    expect(uplinkIn(await surveyOf(`${E}/survey`), "hall-fibre").result).toEqual(planned);
  });

  test("what is set aside for others lowers tests of the free hours", async () => {
    const fibre = uplinkIn(await surveyOf(`${E}/survey`), "hall-fibre");
    const { id, eventId, reserveOverride, ...body }: Uplink = fibre.uplink;
    await world.call("PUT", `/uplinks/${id}`, {
      ...body,
      reserved: [{ from: "19:00", until: "22:00", rateBps: 9_000_000, note: "guests" }],
    });
    const after = uplinkIn(await surveyOf(`${E}/survey`), "hall-fibre").result;
    expect(after.reservedBps).toBe(9_000_000);
    expect(after.sustainableBps ?? 0).toBeLessThan(fibre.result.sustainableBps ?? 0);
    await world.call("PUT", `/uplinks/${id}`, body);
    expect(uplinkIn(await surveyOf(`${E}/survey`), "hall-fibre").result).toEqual(fibre.result);
  });

  test("round trips to regions are kept and the newest counts", async () => {
    const trip = (rttMs: number, takenAt: string) =>
      world.call("POST", "/uplinks/hall-hotspot/regions", { platformId: "halyard-relay", regionId: "skerrow", rttMs, takenAt });
    expect((await trip(48, "2026-06-01T10:00:00Z")).status).toBe(201);
    expect((await trip(0, "2026-06-01T10:00:00Z")).status).toBe(422);
    expect((await trip(5, "2099-06-01T10:00:00Z")).body.detail).toContain("future");
    expect(uplinkIn(await surveyOf(`${E}/survey`), "hall-hotspot").regions).toMatchObject([{ regionId: "skerrow", rttMs: 48 }]);
  });
});

test("a database of the first version is brought up with its tests, prices and deletions", async () => {
  const db = await openDb(null);
  // What the first version left: put back its columns and rows, then run the second migration again.
  await db.exec(`
    drop table line_tests; drop table region_trips; drop index measurements_by_uplink;
    alter table uplinks drop column metered, drop column reserved, drop column members, drop column reflector,
      drop column local_address, drop column event_id, drop column archived_at, add column price_per_gb double precision;
    alter table measurements drop column excluded, drop column import_id, add column deleted_at timestamptz;
    alter table measurements rename column content_key to content_hash;
    insert into venues values ('v', 'Hall', 'Europe/London', '');
    insert into uplinks (id, venue_id, position, name, kind, price_per_gb) values ('u', 'v', 0, 'Hotspot', 'cellular', 4);
    insert into measurements (id, uplink_id, taken_at, duration_s, rate_bps, layer, floor, rtt_ms, source, content_hash, deleted_at)
      values ('m', 'u', '2026-06-01T19:00:00Z', 10, 8000000, 'ip', false, 14.5, 'csv', 'abc', null),
             ('n', 'u', '2026-06-01T20:00:00Z', 10, 9000000, 'udp', true, null, 'csv', 'def', now());
    insert into rule_sheets values ('p', 1, '{"platform": {"id": "p"}}', '{}');
  `);
  await db.exec(readFileSync(join(__dirname, "../db/migrations/002_survey.sql"), "utf8"));
  const rows = (await db.query("select content_key, excluded from measurements order by id")).rows;
  const base = { durationS: 10, source: "csv" as const };
  expect(rows).toEqual([
    {
      content_key: contentKey({ ...base, takenAt: "2026-06-01T19:00:00Z", rateBps: 8_000_000, layer: "ip", floor: false, rttMs: 14.5 }),
      excluded: null,
    },
    {
      content_key: contentKey({ ...base, takenAt: "2026-06-01T20:00:00Z", rateBps: 9_000_000, layer: "udp", floor: true }),
      excluded: "deleted earlier",
    },
  ]);
  expect((await db.query("select metered from uplinks")).rows).toEqual([{ metered: { allowanceGb: null, usedGb: 0, pricePerGb: 4 } }]);
  expect((await db.query("select doc->'regions' as regions from rule_sheets")).rows).toEqual([{ regions: [] }]);
  await db.close();
});
