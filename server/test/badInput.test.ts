import type { Problem } from "@ukaza/contract/problem";
import fc from "fast-check";
import { choice, demoFile, feeds, settings, startWorld, type World } from "./world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.close());

const E = "/events/opening-concert";

/** Demands on the opening concert; `first`: other ones of its first destination. */
const demands = (more: object, first: object = {}) => ({
  encoderIds: ["desk-encoder"],
  allowMaximum: false,
  recordBps: {},
  destinations: ["oriel", "parishboard", "tallgate", "halyard"].map((id, i) => ({ id, ...(i === 0 ? first : {}) })),
  ...more,
});

describe("every route's bad input gets a problem document that says how to mend it", () => {
  test.each<[string, string, unknown, number, RegExp]>([
    ["GET", "/nowhere", undefined, 404, /is not there/],
    ["GET", "/events/none", undefined, 404, /no event "none"/],
    ["GET", "/events/none/log", undefined, 404, /no event/],
    ["GET", "/events/none/survey", undefined, 404, /no event/],
    ["GET", "/events/none/fit", undefined, 404, /no event/],
    ["GET", "/events/none/rig", undefined, 404, /no event/],
    ["GET", "/events/none/lineup", undefined, 404, /no event/],
    ["GET", "/events/none/air", undefined, 404, /no event/],
    ["GET", "/events/none/air/samples", undefined, 404, /no event/],
    ["GET", "/events/none/report", undefined, 404, /no event/],
    ["GET", "/events/none/report.csv", undefined, 404, /no event/],
    ["GET", "/events/none/record.json", undefined, 404, /no event/],
    ["GET", "/events/none/stream", undefined, 404, /no event/],
    ["GET", `${E}/record.json`, undefined, 409, /no past/],
    ["GET", `${E}/air/samples?seconds=0`, undefined, 422, /whole number from 1/],
    ["GET", `${E}/air/samples?seconds=a`, undefined, 422, /whole number from 1/],
    ["POST", "/import", { format: "other" }, 422, /format/],
    ["POST", "/import", [], 422, /document/],
    ["POST", "/uplinks/none/measurements", {}, 404, /no uplink/],
    ["POST", "/uplinks/hall-fibre/measurements", { rateBps: "fast" }, 422, /takenAt/],
    [
      "POST",
      "/uplinks/hall-fibre/measurements",
      { takenAt: "2999-01-01T00:00:00Z", rateBps: 1e6, layer: "ip", source: "by hand" },
      422,
      /future/,
    ],
    ["PATCH", "/uplinks/hall-fibre", { reserveOverride: 2 }, 422, /reserveOverride/],
    ["PATCH", "/uplinks/none", { reserveOverride: 0.2 }, 404, /no uplink/],
    ["DELETE", "/measurements/none/excluded", undefined, 404, /no measurement/],
    ["DELETE", "/tests/none", undefined, 404, /no test/],
    ["GET", "/uplinks/none/tests", undefined, 404, /no uplink/],
    ["GET", "/uplinks/none/measurements", undefined, 404, /no uplink/],
    ["GET", "/uplinks/hall-fibre/measurements?sort=colour", undefined, 422, /sort/],
    ["GET", "/venues/none/survey", undefined, 404, /no venue/],
    ["POST", "/uplinks/hall-fibre/tests", { kind: "plan", at: [] }, 422, /at/],
    ["PUT", `${E}/fit`, {}, 422, /name/],
    ["PUT", `${E}/fit`, choice({ settings: { ...settings, videoBps: -1 } }), 422, /videoBps/],
    ["PUT", `${E}/fit`, choice({ settings: { ...settings, audioBps: 320_000 } }), 409, /audio-over-max/],
    ["PUT", `${E}/fit`, choice({ feeds: [{ role: "main", encoderId: "desk-encoder", uplinkId: "chapel-copper" }] }), 422, /does not have/],
    ["PUT", `${E}/fit`, choice({ feeds: [feeds[1]] }), 422, /one main feed/],
    ["PUT", `${E}/fit`, choice({}, "nowhere"), 422, /nowhere/],
    ["PUT", `${E}/fit`, choice({ settings: null, feeds: [] }), 422, /serves no destination/],
    ["PUT", `${E}/fit`, choice({ feeds: [], through: "halyard" }), 422, /needs one main feed/],
    ["POST", `${E}/plans`, { ...choice(), name: "" }, 422, /name/],
    ["PATCH", `${E}/plans/none`, { name: "Other" }, 404, /no plan/],
    ["DELETE", `${E}/plans/none`, undefined, 404, /no plan/],
    ["PUT", `${E}/demands`, {}, 422, /encoderIds/],
    ["PUT", `${E}/demands`, demands({ encoderIds: ["none"] }), 422, /no encoder "none"/],
    ["PUT", `${E}/demands`, demands({ destinations: [{ id: "oriel" }] }), 422, /every destination/],
    ["PUT", `${E}/demands`, demands({}, { through: { destinationId: "parishboard" } }), 422, /no relay/],
    ["PUT", `${E}/demands`, demands({}, { weight: 9 }), 422, /weight/],
    ["GET", `${E}/settings-sheets/none.csv`, undefined, 409, /no settings have been chosen/],
    ["POST", `${E}/rig/configure`, undefined, 409, /no settings have been chosen/],
    ["POST", `${E}/rig/read-back`, undefined, 409, /no settings have been chosen/],
    ["POST", `${E}/rig/reveal`, { role: "main" }, 404, /no main key/],
    ["POST", `${E}/rig/reveal`, { role: "third" }, 422, /role/],
    ["POST", `${E}/lineup/steps/fly`, {}, 404, /not a step/],
    ["POST", `${E}/lineup/steps/send`, {}, 409, /cannot be taken yet/],
    ["POST", `${E}/lineup/steps/public`, {}, 422, /not confirmed/],
    ["POST", `${E}/lineup/steps/end`, { confirm: "yes" }, 422, /not confirmed/],
    ["POST", `${E}/lineup/steps/public`, { confirm: "public" }, 409, /cannot be taken yet/],
    ["POST", `${E}/air/switch`, { to: "backup" }, 409, /not public/],
    ["POST", `${E}/air/switch`, { to: "moon" }, 422, /to/],
    ["POST", `${E}/air/trouble`, { uplinkId: "hall-fibre", change: { kind: "storm" } }, 422, /change/],
    ["POST", `${E}/air/trouble`, { uplinkId: "cliff-satellite", change: { kind: "cut" } }, 422, /no feed of this event/],
  ])("%s %s %j → %d", async (method, path, body, status, detail) => {
    const answer = await world.call(method, path, body);
    expect(answer.type).toContain("application/problem+json");
    expect(answer.status).toBe(status);
    expect(answer.body.detail).toMatch(detail);
    expect(answer.body.mend.length).toBeGreaterThan(5);
  });

  test("a body that is no JSON, and one too large", async () => {
    expect((await world.call("PUT", `${E}/fit`, "{not json")).body).toMatchObject({ status: 400, detail: "the body is not JSON" });
    const large = JSON.stringify({ text: "x".repeat(27_000_000) });
    expect((await world.call("PUT", `${E}/fit`, large)).body).toMatchObject({ status: 413 });
  });

  test("nothing that comes in crashes the server or is answered with its insides", async () => {
    const paths = [
      "/import",
      "/uplinks/hall-fibre/measurements",
      "/uplinks/hall-fibre/measurements/batch",
      "/uplinks/hall-fibre/measurements/known",
      "/uplinks/hall-fibre/tests",
      "/uplinks/hall-fibre/regions",
      "/venues",
      "/venues/harbour-hall/uplinks",
      `${E}/uplinks`,
      `${E}/rig/reveal`,
      `${E}/lineup/steps/watch`,
      `${E}/air/switch`,
      `${E}/air/trouble`,
    ];
    await fc.assert(
      fc.asyncProperty(fc.constantFrom(...paths), fc.jsonValue({ maxDepth: 4 }), async (path, body) => {
        const answer = await world.call<Problem>("POST", path, JSON.stringify(body));
        expect(answer.status).toBeGreaterThanOrEqual(400);
        expect(answer.status).toBeLessThan(500);
      }),
      { numRuns: 120 },
    );
    expect((await world.call<{ ok: boolean }>("GET", "/health")).body.ok).toBe(true);
  });
});

describe("documents", () => {
  test("documents that do not fit together are refused with what is missing", async () => {
    const event = demoFile<Record<string, unknown>>("events/opening-concert.json");
    expect((await world.call("POST", "/import", event)).body.detail).toBe('there is already an event "opening-concert"');
    expect((await world.call("POST", "/import", { ...event, id: "other", venueId: "nowhere" })).body.detail).toContain(
      'the venue "nowhere"',
    );
    expect(
      (await world.call("POST", "/import", { ...event, id: "other", show: { start: "2026-06-10T21:00:00Z", end: "2026-06-10T20:00:00Z" } }))
        .body.detail,
    ).toContain("ends before it starts");
    const platform = demoFile<{ sheet: { bFramesMax: number } }>("platforms/oriel-public.json");
    platform.sheet.bFramesMax = 1;
    expect((await world.call("POST", "/import", platform)).body).toMatchObject({
      status: 409,
      detail: expect.stringContaining("revision 1"),
    });
    const venue = demoFile<{ id: string }>("venues/harbour-hall.json");
    expect((await world.call("POST", "/import", { ...venue, id: "other-hall" })).body.detail).toContain("belongs to another venue");
  });

  test("an event's record comes back from its own export", async () => {
    const record = (await world.call<{ event: { id: string; name: string } }>("GET", "/events/choral-evensong/record.json")).body;
    const copy = { ...record, event: { ...record.event, id: "evensong-copy" } };
    expect((await world.call("POST", "/import", copy)).status).toBe(201);
    const report = async (id: string) => {
      const { body } = await world.call<Record<string, unknown> & { feeds: { feedId: string }[] }>("GET", `/events/${id}/report`);
      const { eventId: _e, madeAt: _m, log: _l, incidents: _i, feeds: reported, ...rest } = body;
      return { ...rest, feeds: reported.map(({ feedId: _f, ...feed }) => feed) };
    };
    expect(await report("evensong-copy")).toEqual(await report("choral-evensong"));
  });
});
