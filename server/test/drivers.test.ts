import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { Refusal } from "@ukaza/contract/problem";
import { desk, oriel, settings, unsaid } from "../../core/test/kit";
import { queries } from "../db/queries";
import { standinDrivers } from "../drivers/standins";
import type { NamedFeed } from "../events/store";
import { sampleOf } from "../live/observe";

/** A device that answers as it is told, over a real socket. */
let device: Server;
let origin = "";
let answer: (path: string) => { status: number; body: string } | null = () => null;
const asked: { method: string; path: string; body: string }[] = [];
beforeAll(async () => {
  device = createServer((request, response) => {
    let body = "";
    request.on("data", (chunk) => {
      body += chunk;
    });
    request.on("end", () => {
      asked.push({ method: request.method ?? "", path: request.url ?? "", body });
      const said = answer(request.url ?? "");
      // null: the device never answers.
      if (said) response.writeHead(said.status, { "content-type": "application/json" }).end(said.body);
    });
  });
  await new Promise<void>((resolve) => device.listen(0, "127.0.0.1", resolve));
  origin = `http://127.0.0.1:${(device.address() as AddressInfo).port}`;
});
afterAll(
  () =>
    new Promise<void>((resolve) => {
      device.closeAllConnections();
      device.close(() => resolve());
    }),
);

const drivers = () => standinDrivers({ desk: origin, oriel: origin }, () => "token-of-the-crew");
const reached = (name: string) => ({ ...desk, reach: { driver: "standin" as const, name } });
const encoder = () => drivers().encoder(reached("desk"));
const kindOf = async (work: Promise<unknown>): Promise<string> => {
  try {
    await work;
  } catch (error) {
    if (error instanceof Refusal) return error.problem.type.replace("urn:ukaza:problem:", "");
    throw error;
  }
  return "answered";
};
const json = (value: unknown, status = 200) => ({ status, body: JSON.stringify(value) });

test("a device that is silent, off, refusing or talking nonsense is told apart", async () => {
  answer = () => null;
  expect(await kindOf(encoder().status())).toBe("device-not-heard");
  expect(
    await kindOf(
      standinDrivers({ desk: "http://127.0.0.1:9" }, () => null)
        .encoder(reached("desk"))
        .held(),
    ),
  ).toBe("device-not-heard");
  answer = () => ({ status: 200, body: "<html>" });
  expect(await kindOf(encoder().status())).toBe("device-not-heard");
  answer = () => json({ hello: 1 });
  expect(await kindOf(encoder().status())).toBe("device-not-understood");
  answer = () => json({ type: "x", title: "x", status: 409, detail: "the engine has no settings", mend: "Configure it first." }, 409);
  await expect(encoder().start("f-1")).rejects.toMatchObject({
    problem: { status: 502, detail: "the engine has no settings", mend: "Configure it first." },
  });
  answer = () => ({ status: 500, body: "{}" });
  await expect(encoder().held()).rejects.toMatchObject({ problem: { detail: "the device answered 500" } });
  expect(() => drivers().encoder(reached("other")).held()).toThrow(/no address is known/);
  expect(drivers().line).toBeNull();
});

test("each order goes to its own path, and no key stands in a path", async () => {
  asked.length = 0;
  const held = {
    engine: { settings },
    feeds: { "f-1": { address: "rtmp://h/live", key: "k-secret", uplinkId: "a", credentials: unsaid } },
  };
  const broadcast = { id: "b", state: "created", source: "main", ingests: [], previewReady: false, publicAt: null, endedAt: null };
  answer = (path) => (path.includes("broadcasts") ? json(path === "/v1/broadcasts" ? { ...broadcast, keys: [] } : broadcast) : json(held));
  await encoder().configure(held);
  const platform = drivers().platform({ driver: "standin", name: "oriel" });
  await platform.create({ title: "T", description: "", access: "public" });
  await platform.goPublic("b");
  await platform.setSource("b", "backup");
  await platform.end("b");
  expect(asked.map((a) => `${a.method} ${a.path}`)).toEqual([
    "PUT /v1/config",
    "POST /v1/broadcasts",
    "POST /v1/broadcasts/b/public",
    "PUT /v1/broadcasts/b/source",
    "POST /v1/broadcasts/b/end",
  ]);
  expect(asked.map((a) => a.path).join()).not.toContain("k-secret");
  expect(asked[3]?.body).toBe('{"role":"backup"}');
});

describe("a sample holds only what was said", () => {
  const feed: NamedFeed = {
    id: "f-1",
    role: "main",
    destinationId: "d",
    encoderId: desk.id,
    uplinkId: "a",
    targetBps: 5_128_000,
    settings,
    uplinkName: "A",
  };
  const at = "2026-06-10T18:00:00.300Z";
  const status = {
    feedId: "f-1",
    sending: true,
    sentBps: 5e6,
    framesEncoded: 25,
    framesDropped: 0,
    queueMs: 3,
    rttMs: 20,
    retransmittedShare: 0,
    reconnects: 0,
    keyframeS: 2,
    audioDb: -20,
    pictureChange: 0.1,
    connection: "accepted" as const,
  };
  const saidByEncoder = (more: object = {}) => ({ encoderId: desk.id, at, encoderLoad: 0.4, feeds: [{ ...status, ...more }] });
  const saidByPlatform = (more: object = {}) => ({
    id: "b",
    state: "receiving" as const,
    source: "main" as const,
    previewReady: false,
    publicAt: null,
    endedAt: null,
    costSoFar: null,
    ingests: [
      {
        role: "main" as const,
        receiving: true,
        receivedBps: 4.9e6,
        heardAt: at,
        verdict: "good" as const,
        reason: null,
        received: null,
        ...more,
      },
    ],
  });

  test("both sides heard", () => {
    expect(sampleOf(feed, { encoder: saidByEncoder(), broadcast: saidByPlatform() }, at)).toMatchObject({
      at,
      targetBps: 5_128_000,
      sentBps: 5e6,
      receivedBps: 4.9e6,
      encoderLoad: 0.4,
      frameRateHz: 25,
      platform: "good",
    });
  });

  test("a side that is not heard gives nulls, never zeros", () => {
    const neither = sampleOf(feed, { encoder: null, broadcast: null }, at);
    expect(
      Object.entries(neither)
        .filter(([, v]) => v === null)
        .map(([k]) => k)
        .sort(),
    ).toEqual(
      [
        "audioDb",
        "encoderLoad",
        "framesDropped",
        "framesEncoded",
        "keyframeS",
        "pictureChange",
        "platform",
        "queueMs",
        "receivedBps",
        "reconnects",
        "retransmittedShare",
        "rttMs",
        "sentBps",
      ].sort(),
    );
    expect(sampleOf(feed, { encoder: null, broadcast: saidByPlatform() }, at)).toMatchObject({ sentBps: null, receivedBps: 4.9e6 });
    expect(sampleOf(feed, { encoder: saidByEncoder(), broadcast: null }, at)).toMatchObject({
      sentBps: 5e6,
      receivedBps: null,
      platform: null,
    });
  });

  test("an encoder that does not send is silent; a refused connection is refused", () => {
    expect(sampleOf(feed, { encoder: saidByEncoder({ sending: false, sentBps: 0 }), broadcast: null }, at).sentBps).toBeNull();
    expect(
      sampleOf(feed, { encoder: saidByEncoder({ connection: "refused" }), broadcast: saidByPlatform({ verdict: null }) }, at).platform,
    ).toBe("refused");
  });
});

test("an unknown query is a mistake of ours and says so", () => {
  expect(queries(`${__dirname}/../live`)("batches")).toContain("select b.feed_id");
  expect(() => queries(`${__dirname}/../live`)("nothing")).toThrow(/no query "nothing"/);
  expect(oriel.platform.name).toBe("Oriel Public");
});
