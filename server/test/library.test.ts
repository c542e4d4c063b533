import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import type { KitItem } from "@ukaza/contract/kit";
import type { LibraryPreview, ListedSheet, NewerSheet, SheetVersion } from "@ukaza/contract/library";
import type { Problem } from "@ukaza/contract/problem";
import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import { shippedKit, shippedSheets } from "../../core/test/kit";
import { demoFile, startWorld, type World } from "./world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.close());

const preview = <T = LibraryPreview>(source: object) => world.call<T>("POST", "/library/preview", source);
const text = (document: unknown) => ({ text: JSON.stringify(document) });
const newest = async (id: string) => (await world.call<ListedSheet>("GET", `/platforms/${id}`)).body;

describe("rule sheets and their versions", () => {
  test("all five are in the book, sorted by name, and each exports as what comes in again unchanged", async () => {
    const { body } = await world.call<ListedSheet[]>("GET", "/platforms");
    expect(body.map((l) => l.sheet.platform.name)).toEqual(["Any server", "Halyard Relay", "Oriel Public", "Parishboard", "Tallgate"]);
    for (const { sheet } of body) {
      const file = await fetch(`${world.running.address}/api/platforms/${sheet.platform.id}/export`);
      expect(file.headers.get("content-disposition")).toContain(`${sheet.platform.id}-${sheet.revision}.json`);
      const looked = await preview({ text: await file.text() });
      expect(looked.body).toMatchObject({ standing: "same", changes: [] });
    }
  });

  test("a changed sheet becomes the next version; who began from an older one is told; the same again changes nothing", async () => {
    const { sheet, reach } = await newest("tallgate");
    const louder: RuleSheet = { ...sheet, audio: { ...sheet.audio, maxBps: sheet.audio.maxBps + 32_000 } };
    const saved = await world.call<ListedSheet>("PUT", "/platforms/tallgate", { sheet: louder, from: 1 });
    expect(saved.body).toMatchObject({ sheet: { revision: 2 }, versions: 2, reach });
    const late = await world.call("PUT", "/platforms/tallgate", { sheet: { ...sheet, bFramesMax: 0 }, from: 1 });
    expect(late.body).toMatchObject({
      status: 409,
      detail: expect.stringMatching(/saved version 2 while this one was being edited from version 1/),
    });
    const again = await world.call<ListedSheet>("PUT", "/platforms/tallgate", { sheet: louder, from: 2 });
    expect(again.body.versions).toBe(2);
    const versions = (await world.call<SheetVersion[]>("GET", "/platforms/tallgate/versions")).body;
    expect(versions.map((v) => v.revision)).toEqual([2, 1]);
    expect(versions[0]?.changes).toEqual([{ path: "audio.maxBps", before: sheet.audio.maxBps, after: sheet.audio.maxBps + 32_000 }]);
    expect((await world.call<RuleSheet>("GET", "/platforms/tallgate/versions/1")).body).toEqual(sheet);
    expect(
      (await world.call("PUT", "/platforms/tallgate", { sheet: { ...louder, platform: { ...sheet.platform, id: "other" } }, from: 2 }))
        .status,
    ).toBe(422);
  });

  test("an event keeps the version it was planned with, says what is newer, and is planned anew on request", async () => {
    const { sheet } = await newest("oriel-public");
    // Another platform's sheet was changed above; this one's was not.
    const newerOf = (sheets: NewerSheet[]) => sheets.filter((s) => s.platformId === "oriel-public");
    const read = async () => newerOf((await world.call<NewerSheet[]>("GET", "/events/opening-concert/sheets")).body);
    expect(await read()).toEqual([]);
    await world.call("PUT", "/platforms/oriel-public", { sheet: { ...sheet, bFramesMax: 1 }, from: 1 });
    expect(await read()).toEqual([
      {
        platformId: "oriel-public",
        platformName: "Oriel Public",
        planned: 1,
        newest: 2,
        changes: [{ path: "bFramesMax", before: sheet.bFramesMax, after: 1 }],
        held: null,
      },
    ]);
    const versions = (await world.call<SheetVersion[]>("GET", "/platforms/oriel-public/versions")).body;
    expect(versions.find((v) => v.revision === 1)?.events.map((e) => e.id)).toContain("opening-concert");
    expect(newerOf((await world.call<NewerSheet[]>("POST", "/events/opening-concert/sheets/oriel-public")).body)).toEqual([]);
    const fit = await world.call<{ problem: { destinations: { sheet: RuleSheet }[] } }>("GET", "/events/opening-concert/fit");
    expect(fit.body.problem.destinations[0]?.sheet).toMatchObject({ revision: 2, bFramesMax: 1 });
    expect((await world.call("POST", "/events/opening-concert/sheets/oriel-public")).status).toBe(409);
    // Last night's event is over: it keeps what it had.
    expect((await world.call("POST", "/events/choral-evensong/sheets/oriel-public")).body.detail).toMatch(/on its way with the sheet/);
  });

  test("a platform that was never planned with can go, one that was cannot", async () => {
    expect((await world.call("DELETE", "/platforms/oriel-public")).body.detail).toMatch(/was planned with this rule sheet/);
    const sheet = { ...shippedSheets["any-server"], platform: { id: "new", name: "Pier Vision" } };
    const made = await world.call<ListedSheet>("POST", "/platforms", { sheet, from: null });
    expect(made.body.sheet).toMatchObject({ platform: { id: "pier-vision", name: "Pier Vision" }, revision: 1 });
    const second = await world.call<ListedSheet>("POST", "/platforms", { sheet, from: null });
    expect(second.body.sheet.platform.id).toBe("pier-vision-2");
    expect((await world.call("DELETE", "/platforms/pier-vision-2")).status).toBe(200);
    expect((await world.call("GET", "/platforms/pier-vision-2")).status).toBe(404);
  });
});

describe("files from outside", () => {
  test("a changed sheet is shown with its differences, and taken only then, as the next version", async () => {
    const { sheet } = await newest("parishboard");
    const file = demoFile<Record<string, object>>("platforms/parishboard.json");
    const changed = { ...file, sheet: { ...sheet, revision: 7, keyLife: "lasting" } };
    const looked = await preview(text(changed));
    expect(looked.body).toMatchObject({
      kind: "sheet",
      standing: "changed",
      revision: 2,
      changes: [{ path: "keyLife", before: "dies-on-stop", after: "lasting" }],
    });
    expect((await newest("parishboard")).sheet.revision).toBe(1);
    await world.call("POST", "/library/take", looked.body.document);
    expect((await newest("parishboard")).sheet).toMatchObject({ revision: 2, keyLife: "lasting" });
    // How the platform is reached is the crew's own matter.
    const stolen = { ...changed, reach: { driver: "http", address: "http://127.0.0.1:9" }, sheet: { ...changed.sheet, bFramesMax: 0 } };
    await world.call("POST", "/library/take", stolen);
    expect((await newest("parishboard")).reach).toEqual({ driver: "standin", name: "parishboard" });
    // A bare sheet does too.
    expect((await preview(text({ ...sheet, platform: { id: "quay", name: "Quay" } }))).body).toMatchObject({ standing: "new", id: "quay" });
  });

  test("an encoder comes in the same way", async () => {
    const kit = { ...shippedKit["rack-two-way"], serial: "RT2-7777" };
    expect((await preview(text(kit))).body).toMatchObject({ kind: "encoder", standing: "changed", changes: [{ path: "serial" }] });
    expect((await preview(text({ ...kit, id: "rack-b" }))).body).toMatchObject({ standing: "new", revision: null });
    await world.call("POST", "/library/take", { ...kit, id: "rack-b" });
    expect((await world.call<KitItem[]>("GET", "/kit")).body.map((k) => k.encoder.id)).toContain("rack-b");
  });

  test.each<[string, () => string, RegExp, RegExp?]>([
    ["cut off", () => JSON.stringify(demoFile("platforms/tallgate.json")).slice(0, 700), /not whole JSON/],
    ["no JSON", () => "hello", /not whole JSON/],
    ["nested without end", () => "[".repeat(1_000_000), /nested more than 40 levels/],
    ["of another kind", () => JSON.stringify({ format: "ukaza-venue", version: 1 }), /file: format/],
    [
      "of a later version",
      () => JSON.stringify({ ...demoFile("kit/desk-encoder.json"), version: 2 }),
      /version: this program reads version 1/,
    ],
    [
      "with a fault deep inside",
      () =>
        JSON.stringify(demoFile("platforms/tallgate.json"))
          .replace('"maxBps":6000000', '"maxBps":"fast"')
          .replace(/"minBps":\d+/, '"minBps":-1'),
      /sheet\.modes\.0\.minBps/,
    ],
    [
      "with keys of the prototype",
      () => JSON.stringify(demoFile("kit/desk-encoder.json")).replace("{", '{"__proto__":{"polluted":true},"constructor":{"x":1},'),
      /nrecognized key/,
    ],
    [
      "with a key that is not known",
      () => JSON.stringify({ ...demoFile("kit/desk-encoder.json"), colour: "red" }),
      /[Uu]nrecognized key.*colour/,
    ],
  ])("a file %s is refused, and says where", async (_what, make, said) => {
    const answer = await preview<Problem>({ text: make() });
    expect(answer.status).toBe(422);
    expect(answer.body.detail).toMatch(said);
    expect(answer.body.mend.length).toBeGreaterThan(10);
    expect(({} as { polluted?: boolean }).polluted).toBeUndefined();
  });

  test("a file of ten megabytes is refused before it is looked into", async () => {
    const sheet = shippedSheets["oriel-public"];
    const huge = JSON.stringify({ ...sheet, source: { ...sheet.source, title: "x".repeat(10_000_000) } });
    const answer = await preview<Problem>({ text: huge });
    expect([answer.status, answer.body.detail]).toEqual([422, expect.stringMatching(/source: text|source: \(whole\)/)]);
    expect((await world.call("POST", "/library/take", huge)).status).toBe(422);
  });

  describe("by a link", () => {
    let server: Server;
    let origin = "";
    beforeAll(async () => {
      server = createServer((request, response) => {
        if (request.url === "/moved.json") return void response.writeHead(302, { location: "/tallgate.json" }).end();
        if (request.url === "/tallgate.json") return void response.end(JSON.stringify(demoFile("platforms/tallgate.json")));
        if (request.url === "/endless.json") {
          response.write("[");
          const more = setInterval(() => response.write("1,".repeat(200_000)), 1);
          return void request.on("close", () => clearInterval(more));
        }
        response.writeHead(404).end("no");
      });
      await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
      origin = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
    });
    afterAll(() => {
      server.closeAllConnections();
      return new Promise<void>((resolve) => server.close(() => resolve()));
    });

    test("a file is read, also where it has moved to", async () => {
      for (const path of ["/tallgate.json", "/moved.json"])
        expect((await preview({ link: origin + path })).body).toMatchObject({ id: "tallgate" });
    });

    test.each([
      ["/none.json", 502, /it answered 404/],
      ["/endless.json", 413, /no file of more than 2 MB/],
    ])("%s is refused", async (path, status, said) => {
      const answer = await preview<Problem>({ link: origin + path });
      expect([answer.status, answer.body.detail]).toEqual([status, expect.stringMatching(said)]);
    });

    test("no link at all, one of another scheme, and a server that is not there", async () => {
      for (const link of ["sheet.json", "file:///etc/passwd", "ftp://h/x"]) expect((await preview<Problem>({ link })).status).toBe(422);
      expect((await preview<Problem>({ link: "http://127.0.0.1:9/x" })).body.detail).toMatch(/no answer/);
    });
  });
});

describe("kit", () => {
  const kit = async () => (await world.call<KitItem[]>("GET", "/kit")).body;
  const item = async (id: string) => (await kit()).find((k) => k.encoder.id === id);

  test("an encoder is added, changed, copied under another id, and put away", async () => {
    const added = await world.call<{ id: string }>("POST", "/encoders", {
      ...shippedKit["pocket-encoder"],
      name: "Pocket encoder",
      serial: "PK-0053",
    });
    expect(added.body.id).toBe("pocket-encoder-2");
    await world.call("PUT", "/encoders/pocket-encoder-2", { ...shippedKit["pocket-encoder"], name: "Spare pocket", audioMaxBps: 96_000 });
    expect((await item("pocket-encoder-2"))?.encoder).toMatchObject({ id: "pocket-encoder-2", name: "Spare pocket", audioMaxBps: 96_000 });
    expect((await world.call("PUT", "/encoders/pocket-encoder-2", { ...shippedKit["pocket-encoder"], engines: 0 })).body.detail).toMatch(
      /engines/,
    );
    expect((await world.call("DELETE", "/encoders/desk-encoder")).body.detail).toMatch(/Opening concert has this encoder planned/);
    await world.call("DELETE", "/encoders/pocket-encoder-2");
    expect(await item("pocket-encoder-2")).toBeUndefined();
    expect((await world.call("GET", "/encoders/pocket-encoder-2")).status).toBe(404);
  });

  test("two events in the same hours: refused, taken along despite that, said on both sides, and free again when it is back", async () => {
    const out = (body: object) => world.call("POST", "/encoders/desk-encoder/check-out", body);
    const refused = await out({ eventId: "chapel-recital", by: "Ana" });
    expect([refused.status, refused.body.detail]).toEqual([
      409,
      "Desk encoder is planned for Opening concert at Harbour Hall in the same hours",
    ]);
    expect((await item("desk-encoder"))?.doubles).toEqual([]);
    await out({ eventId: "chapel-recital", by: "Ana", despite: true });
    const now = await item("desk-encoder");
    expect(now?.doubles).toMatchObject([{ a: { eventId: "opening-concert" }, b: { eventId: "chapel-recital", out: { by: "Ana" } } }]);
    expect((await out({ eventId: "chapel-recital", by: "Ana", despite: true })).body.detail).toMatch(/out for that event already/);
    const log = (await world.call<{ kind: string; data: object }[]>("GET", "/events/chapel-recital/log")).body;
    expect(log.at(-1)).toMatchObject({ kind: "kit-out", data: { encoder: "Desk encoder", text: "Ana" } });
    await world.call("POST", "/encoders/desk-encoder/check-in", { eventId: "chapel-recital", by: "Bo" });
    expect((await item("desk-encoder"))?.doubles).toEqual([]);
    expect((await world.call("POST", "/encoders/desk-encoder/check-in", { eventId: "chapel-recital", by: "Bo" })).body.detail).toMatch(
      /is not out/,
    );
    expect((await out({ eventId: "choral-evensong", by: "Bo" })).body.detail).toMatch(/event is over/);
    expect((await out({ eventId: "none", by: "Bo" })).status).toBe(404);
    expect((await out({ eventId: "opening-concert", by: " " })).status).toBe(422);
    // Its own event may have it at any time.
    expect((await out({ eventId: "opening-concert", by: "Bo" })).status).toBe(201);
  });
});
