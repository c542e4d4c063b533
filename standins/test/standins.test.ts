import { existsSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Refusal } from "@ukaza/contract/problem";
import type { CarryOrder, MediaSecond } from "@ukaza/contract/standins";
import { seeded } from "@ukaza/core/random";
import { lineAtRest, lineStep } from "@ukaza/core/survey/lineModel";
import { desk, oriel, settings, unsaid } from "../../core/test/kit";
import { EncoderDevice, type EncoderMemory, freshEncoder, httpIngest } from "../encoder/encoder";
import { Delay } from "../line/delay";
import { Line } from "../line/line";
import { Shaper, tcpWireBytes, udpWireBytes } from "../line/shaper";
import { freshPlatform, Platform, type PlatformMemory } from "../platform/platform";
import { openStore } from "../shared/store";

const inMemory = <T>(value: T) => ({ value, save: () => undefined });
const refusal = (work: () => unknown): string => {
  try {
    work();
  } catch (error) {
    if (error instanceof Refusal) return error.problem.type.replace("urn:ukaza:problem:", "");
    throw error;
  }
  return "nothing refused";
};

describe("platform", () => {
  const t = (s: number) => new Date(Date.parse("2026-06-10T18:00:00Z") + s * 1000);
  const second: MediaSecond = { bits: 5_128_000, settings, pictureChange: 0.2, audioDb: -24 };
  function open(waits = 1) {
    const memory = inMemory<PlatformMemory>(freshPlatform());
    const platform = new Platform(oriel, memory, () => "127.0.0.1:9", waits);
    const made = platform.create({ title: "Concert", description: "", access: "public" }, t(0));
    const key = (role: "main" | "backup") => made.keys.find((k) => k.role === role)?.key ?? "";
    const show = (s: number) => platform.show(platform.find(made.id), t(s));
    const send = (from: number, to: number, media = second) => {
      for (let s = from; s < to; s++) platform.receive("live", key("main"), media, t(s));
    };
    return { platform, made, key, show, send, held: () => platform.find(made.id) };
  }

  test("hands out an address and a key for each ingest, all different", () => {
    const { made } = open();
    expect(made.keys.map((k) => k.address)).toEqual(["rtmp://127.0.0.1:9/live", "rtmp://127.0.0.1:9/live-backup"]);
    expect(new Set(made.keys.map((k) => k.key)).size).toBe(2);
    expect(made.keys[0]?.key.length).toBeGreaterThanOrEqual(20);
  });

  test("judges after its wait, shows a preview later, and hears when sending stops", () => {
    const { show, send } = open();
    expect(show(0)).toMatchObject({ state: "created", previewReady: false });
    send(1, 4);
    expect(show(3.3)).toMatchObject({
      state: "receiving",
      ingests: [{ receiving: true, verdict: null, receivedBps: 5_128_000 }, { receiving: false }],
    });
    send(4, 12);
    expect(show(12).ingests[0]).toMatchObject({ verdict: "good", reason: null });
    expect(show(12).previewReady).toBe(false);
    send(12, 40);
    expect(show(40).previewReady).toBe(true);
    expect(show(50)).toMatchObject({ state: "created", ingests: [{ receiving: false, verdict: null }, {}] });
  });

  test("refuses settings that its own sheet blocks, and calls a thin stream poor", () => {
    const loud = open();
    loud.send(1, 12, { ...second, settings: { ...settings, audioBps: 320_000 } });
    expect(loud.show(12).ingests[0]).toMatchObject({ verdict: "refused", reason: "audio-over-max" });
    const thin = open();
    thin.send(1, 12, { ...second, bits: 2_000_000 });
    expect(thin.show(11.3).ingests[0]).toMatchObject({ verdict: "poor", reason: "received-low", receivedBps: 2_000_000 });
  });

  test("every way a key goes wrong is told apart", () => {
    const { platform, key } = open();
    const receive = (path: string, k: string) => refusal(() => platform.receive(path, k, second, t(1)));
    expect(receive("live/", key("main"))).toBe("no-such-address");
    expect(receive("live", `${key("main")} `)).toBe("key-unknown");
    expect(receive("live", "")).toBe("key-unknown");
    expect(receive("live", key("backup"))).toBe("key-of-other-ingest");
    expect(receive("live-backup", key("main"))).toBe("key-of-other-ingest");
    expect(receive("live", key("main"))).toBe("nothing refused");
  });

  test("public waits for the preview; the end is the end", () => {
    const { platform, held, send, key, show } = open();
    expect(refusal(() => platform.goPublic(held(), t(1)))).toBe("no-preview-yet");
    send(1, 40);
    platform.goPublic(held(), t(40));
    platform.goPublic(held(), t(44));
    expect(show(41)).toMatchObject({ state: "public", publicAt: t(40).toISOString(), previewReady: false });
    platform.setSource(held(), "backup");
    expect(show(41).source).toBe("backup");
    platform.end(held(), t(60));
    platform.end(held(), t(70));
    expect(show(70).endedAt).toBe(t(60).toISOString());
    expect(refusal(() => platform.receive("live", key("main"), second, t(71)))).toBe("broadcast-ended");
    expect(refusal(() => platform.goPublic(held(), t(72)))).toBe("broadcast-ended");
    expect(refusal(() => platform.find("b-none"))).toBe("no-such-broadcast");
  });

  test("without backup ingest there is no backup to choose", () => {
    const platform = new Platform({ ...oriel, backupIngest: false }, inMemory<PlatformMemory>(freshPlatform()), () => "h", 1);
    const made = platform.create({ title: "T", description: "", access: "private" }, t(0));
    expect(made.keys.map((k) => k.role)).toEqual(["main"]);
    expect(refusal(() => platform.setSource(platform.find(made.id), "backup"))).toBe("no-such-ingest");
  });
});

describe("line and encoder over real sockets", () => {
  const model = {
    meanBps: 20_000_000,
    daily: { share: 0, bestMinute: 0 },
    crowd: { share: 0, fromMinute: 1, fullMinute: 2, untilMinute: 3 },
    wander: { rho: 0, sigma: 0 },
    outage: { perSecond: 0, endsPerSecond: 1, leftShare: 1 },
    loss: { toBad: 0, toGood: 1, good: 0, bad: 0 },
    rttMs: 20,
  };
  /** An ingest that keeps what it was given and answers as it is told. */
  let ingest: Server;
  let url = "";
  let answer = 204;
  const got: { key: string; path: string; media: MediaSecond }[] = [];
  beforeAll(async () => {
    ingest = createServer((request, response) => {
      let text = "";
      request.on("data", (chunk) => {
        text += chunk;
      });
      request.on("end", () => {
        got.push({ key: String(request.headers["x-stream-key"]), path: request.url ?? "", media: JSON.parse(text) });
        response.writeHead(answer).end();
      });
    });
    await new Promise<void>((resolve) => ingest.listen(0, "127.0.0.1", resolve));
    url = `http://127.0.0.1:${(ingest.address() as AddressInfo).port}/ingest/live`;
  });
  afterAll(() => new Promise<void>((resolve) => ingest.close(() => resolve())));
  beforeEach(() => {
    got.length = 0;
    answer = 204;
  });
  const order = (more: Partial<CarryOrder> = {}): CarryOrder => ({
    feedId: "f-1",
    ingestUrl: url,
    key: "k-1",
    credentials: unsaid,
    offeredBits: 5_000_000,
    mediaShare: 0.96,
    media: { settings, pictureChange: 0.1, audioDb: -20 },
    ...more,
  });
  const now = new Date("2026-06-10T12:00:00Z");
  const open = () => new Line({ a: model }, 1, "UTC");

  test("carries what fits and hands it on; the key travels in a header, never in the address", async () => {
    expect(await open().carry("a", order(), now)).toEqual({
      carriedBits: 5_000_000,
      rttMs: 20,
      retransmittedShare: 0,
      platform: "accepted",
    });
    expect(got).toMatchObject([{ key: "k-1", path: "/ingest/live", media: { bits: 4_800_000 } }]);
    expect(await open().carry("b", order(), now)).toBeNull();
  });

  test("a sunk line carries its rate and shares it fairly; a cut one carries nothing and reaches nobody", async () => {
    const line = open();
    expect(line.setTrouble("a", { kind: "sink", toBps: 6_000_000 })).toBe(true);
    await line.carry("a", order({ feedId: "f-2", offeredBits: 1_000_000 }), now);
    const full = await line.carry("a", order(), now);
    expect(full?.carriedBits).toBe(5_000_000);
    const over = await line.carry("a", order({ offeredBits: 9_000_000 }), now);
    expect(over).toMatchObject({ carriedBits: 5_000_000, rttMs: 200 });
    expect(over?.retransmittedShare).toBeGreaterThan(0);
    line.setTrouble("a", { kind: "cut" });
    got.length = 0;
    expect(await line.carry("a", order(), now)).toMatchObject({ carriedBits: 0, platform: "unreachable" });
    expect(got).toEqual([]);
    expect(line.list()).toMatchObject([{ id: "a", capacityBps: 0, trouble: "cut" }]);
    line.setTrouble("a", { kind: "recover" });
    expect(line.list()).toMatchObject([{ capacityBps: 20_000_000, trouble: "none" }]);
    expect(line.setTrouble("none", { kind: "cut" })).toBe(false);
  });

  test("a refused or missing ingest is told apart from a bad line", async () => {
    answer = 403;
    expect(await open().carry("a", order(), now)).toMatchObject({ carriedBits: 0, platform: "refused" });
    expect(await open().carry("a", order({ ingestUrl: "http://127.0.0.1:9/ingest/live" }), now)).toMatchObject({
      carriedBits: 0,
      platform: "unreachable",
    });
  });

  test("its seconds are those of the seeded model", () => {
    const wandering = { ...model, wander: { rho: 0.5, sigma: 0.1 } };
    const line = new Line({ a: wandering }, 5, "UTC");
    const random = seeded(5);
    // Without a daily curve and a crowd the time of day changes nothing, so the model can be run beside the line.
    let state = lineAtRest;
    for (let s = 0; s < 5; s++) {
      const next = lineStep(wandering, state, 720, random);
      state = next.state;
      expect(line.list()[0]?.capacityBps).toBe(next.second.capacityBps);
      line.tick(now);
    }
  });

  /** A line that gives every feed the same answer, for the encoder to speak to. */
  async function lineServer(carriedBits: (offered: number) => number, platform: () => string = () => "accepted") {
    const orders: CarryOrder[] = [];
    const server = createServer((request, response) => {
      let text = "";
      request.on("data", (chunk) => {
        text += chunk;
      });
      request.on("end", () => {
        const asked = JSON.parse(text) as CarryOrder;
        orders.push(asked);
        response
          .writeHead(200, { "content-type": "application/json" })
          .end(JSON.stringify({ carriedBits: carriedBits(asked.offeredBits), rttMs: 25, retransmittedShare: 0.01, platform: platform() }));
      });
    });
    await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
    return {
      orders,
      at: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
      close: () => new Promise<void>((resolve) => server.close(() => resolve())),
    };
  }
  const memory = () => inMemory<EncoderMemory>(freshEncoder());
  const feed = { address: "rtmp://127.0.0.1:4311/live", key: "k-1", uplinkId: "a", credentials: unsaid };

  test("the encoder holds what it is told, rounds to its step, refuses what it cannot do", () => {
    const device = new EncoderDevice(desk, memory(), "http://127.0.0.1:9");
    const held = device.configure({ engine: { settings: { ...settings, videoBps: 5_049_000 } }, feeds: { "f-1": feed } });
    expect(held.engine.settings?.videoBps).toBe(5_000_000);
    expect(device.held()).toEqual(held);
    expect(refusal(() => device.configure({ engine: { settings: { ...settings, width: 7680, height: 4320 } }, feeds: {} }))).toBe(
      "cannot-encode",
    );
    expect(refusal(() => device.start("f-9"))).toBe("no-such-feed");
    device.configure({ engine: { settings: null }, feeds: { "f-1": feed } });
    expect(refusal(() => device.start("f-1"))).toBe("no-settings");
    expect(device.status(now).feeds).toMatchObject([{ sending: false, connection: "idle" }]);
  });

  test("it sends the same second on every feed, and what the line does not carry waits", async () => {
    const line = await lineServer((offered) => Math.min(offered, 2_600_000));
    const device = new EncoderDevice(desk, memory(), line.at);
    device.configure({ engine: { settings }, feeds: { "f-1": feed, "f-2": { ...feed, uplinkId: "b" } } });
    device.start("f-1");
    device.start("f-1");
    device.start("f-2");
    await device.tick();
    expect(line.orders).toHaveLength(2);
    expect(line.orders[0]?.ingestUrl).toBe("http://127.0.0.1:4311/ingest/live");
    const [first, second] = device.status(now).feeds;
    expect(first).toMatchObject({ sending: true, connection: "accepted", rttMs: 25, framesEncoded: 25, keyframeS: 2 });
    expect(second?.sentBps).toBe(first?.sentBps);
    expect(first?.sentBps).toBeCloseTo(2_600_000 * (5_128_000 / 5_319_976), -2);
    const queued = first?.queueMs ?? 0;
    await device.tick();
    expect(device.status(now).feeds[0]?.queueMs).toBeGreaterThan(queued);
    for (let s = 0; s < 14; s++) await device.tick();
    expect(device.status(now).feeds[0]).toMatchObject({ framesDropped: expect.any(Number) });
    expect(device.status(now).feeds[0]?.framesDropped).toBeGreaterThan(0);
    expect(device.status(now).feeds[0]?.queueMs).toBeLessThanOrEqual(6_100);
    device.stop("f-1");
    expect(device.status(now).feeds[0]).toMatchObject({ sending: false, sentBps: 0 });
    await line.close();
  });

  test("a line that reaches nobody shows as unreachable, and coming back counts as one reconnect", async () => {
    let reached = true;
    const line = await lineServer(
      (offered) => (reached ? offered : 0),
      () => (reached ? "accepted" : "unreachable"),
    );
    const device = new EncoderDevice(desk, memory(), line.at);
    device.configure({ engine: { settings }, feeds: { "f-1": feed } });
    device.start("f-1");
    const status = () => device.status(now).feeds[0];
    await device.tick();
    expect(status()).toMatchObject({ connection: "accepted", reconnects: 0 });
    reached = false;
    await device.tick();
    await device.tick();
    expect(status()).toMatchObject({ sentBps: 0, rttMs: null, connection: "unreachable", reconnects: 0 });
    reached = true;
    await device.tick();
    await device.tick();
    expect(status()).toMatchObject({ connection: "accepted", reconnects: 1 });
    await line.close();
  });

  test("a line that is switched off is no crash", async () => {
    const device = new EncoderDevice(desk, memory(), "http://127.0.0.1:9");
    device.configure({ engine: { settings }, feeds: { "f-1": feed } });
    device.start("f-1");
    await device.tick();
    expect(device.status(now).feeds[0]).toMatchObject({ sentBps: 0, connection: "unreachable" });
  });

  test.each([
    ["rtmp://h:1/live", "http://h:1/ingest/live"],
    [" rtmps://h/live-backup ", "http://h/ingest/live-backup"],
    ["abcd-efgh-ijkl", "http://127.0.0.1:9/not-an-address"],
    ["http://h/live", "http://127.0.0.1:9/not-an-address"],
  ])("the address %j leads to %s", (address, at) => {
    expect(httpIngest(address)).toBe(at);
  });
});

test("a device's memory outlives a power cut and is sealed on disk", () => {
  const folder = mkdtempSync(join(tmpdir(), "ukaza-store-"));
  const first = openStore(folder, "device", { key: "" });
  first.value.key = "abcd-efgh-secret";
  first.save();
  expect(readFileSync(join(folder, "device.sealed"), "utf8")).not.toContain("abcd");
  expect(openStore(folder, "device", { key: "" }).value).toEqual({ key: "abcd-efgh-secret" });
  expect(existsSync(join(folder, "device.sealed.new"))).toBe(false);
  rmSync(folder, { recursive: true });
});

describe("the shaped way through the line", () => {
  test("what is delayed comes in its order, even when the delay falls", async () => {
    for (const exact of [true, false]) {
      const delay = new Delay(exact);
      const came: [number, number][] = [];
      const begun = performance.now();
      const all = new Promise<void>((resolve) => {
        for (const [i, ms] of [30, 10, 5, 40].entries())
          delay.add(ms, () => {
            came.push([i, performance.now() - begun]);
            if (i === 3) resolve();
          });
      });
      await all;
      expect(came.map(([i]) => i)).toEqual([0, 1, 2, 3]);
      for (const [i, ms] of came) expect(ms).toBeGreaterThanOrEqual(i < 3 ? 29.5 : 39.5);
      delay.add(0, () => came.push([9, 0]));
      delay.stop();
      await new Promise((resolve) => setTimeout(resolve, 10));
      expect(came).toHaveLength(4);
    }
  });

  test("flows take turns, nobody holds more than his share of the buffer, and what leaves is counted", async () => {
    const shaper = new Shaper(() => ({ rateBps: 8_000_000, rttMs: 0, lossRatio: 0 }));
    const left: string[] = [];
    await new Promise<void>((resolve) => {
      for (let i = 0; i < 10; i++)
        for (const flow of ["a", "b"])
          shaper.send(flow, 1_500, () => {
            left.push(flow);
            if (left.length === 20) resolve();
          });
      expect(shaper.hasRoom("a")).toBe(true);
    });
    for (let i = 2; i < 20; i++) {
      const soFar = left.slice(0, i);
      const [a, b] = ["a", "b"].map((flow) => soFar.filter((f) => f === flow).length);
      // The first may leave before the second flow has come.
      expect(Math.abs((a ?? 0) - (b ?? 0))).toBeLessThanOrEqual(2);
    }
    expect(shaper.takeLeft()).toBe(20 * 1_500);
    expect(shaper.takeLeft()).toBe(0);
    for (let i = 0; i < 120; i++) shaper.send("c", 1_500, () => undefined);
    expect(shaper.hasRoom("c")).toBe(false);
    await new Promise<void>((resolve) => shaper.whenRoom("c", resolve));
    expect(shaper.hasRoom("c")).toBe(true);
    shaper.stop();
  });

  test("headers are counted as the line carries them", () => {
    expect(tcpWireBytes(1_448)).toBe(1_500);
    expect(tcpWireBytes(1_449)).toBe(1_449 + 104);
    expect(udpWireBytes(160)).toBe(188);
  });
});
