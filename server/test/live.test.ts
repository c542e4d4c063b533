import { readdirSync, readFileSync, statSync } from "node:fs";
import { join } from "node:path";
import type { AirNow, LogLine, Sample, StreamMessage } from "@ukaza/contract/air";
import type { EventNow } from "@ukaza/contract/event";
import type { RunSheet } from "@ukaza/contract/lineup";
import type { RigNow } from "@ukaza/contract/rig";
import type { EncoderHeld } from "@ukaza/contract/standins";
import type { Report } from "@ukaza/contract/wrap";
import { choice, startWorld, until, type World } from "./world";

const E = "/events/opening-concert";
let world: World;
beforeAll(async () => {
  world = await startWorld(0.05);
});
afterAll(() => world.close());

const step = (name: string, confirm?: string) => world.call<RunSheet>("POST", `${E}/lineup/steps/${name}`, confirm ? { confirm } : {});
const air = async () => (await world.call<AirNow>("GET", `${E}/air`)).body;
const log = async () => (await world.call<LogLine[]>("GET", `${E}/log`)).body;
const trouble = (change: object) => world.call("POST", `${E}/air/trouble`, { uplinkId: "hall-fibre", change });
const held = async () => (await (await fetch(`${world.running.standinAddress("desk-encoder")}/v1/config`)).json()) as EncoderHeld;

/** Every file below a folder that holds these letters. */
function filesWith(folder: string, letters: string): string[] {
  return readdirSync(folder).flatMap((name) => {
    const path = join(folder, name);
    if (statSync(path).isDirectory()) return filesWith(path, letters);
    return readFileSync(path).includes(letters) ? [path] : [];
  });
}

test("an event goes its way once, however often each order is sent", async () => {
  // Choosing, creating and configuring twice each, the first two at the same time.
  await Promise.all([world.call("PUT", `${E}/fit`, choice()), world.call("PUT", `${E}/fit`, choice())]);
  const rigs = await Promise.all([world.call<RigNow>("POST", `${E}/rig/broadcast`), world.call<RigNow>("POST", `${E}/rig/broadcast`)]);
  expect(rigs[0]?.body.ingests).toEqual(rigs[1]?.body.ingests);
  expect((await log()).filter((l) => l.kind === "broadcast-created")).toHaveLength(1);
  const configured = await world.call<RigNow>("POST", `${E}/rig/configure`);
  expect(configured.body.readBack).toMatchObject({ equal: true });

  // The key is what the encoder holds, but stands in no file of the server's and in no answer.
  const { key } = (await world.call<{ key: string }>("POST", `${E}/rig/reveal`, { role: "main" })).body;
  expect(Object.values((await held()).feeds).map((f) => f.key)).toContain(key);
  expect(filesWith(world.folder, key)).toEqual([]);
  expect(JSON.stringify(configured.body)).not.toContain(key);

  // Someone swaps main and backup keys on the encoder: reading back says which fields, and sending is locked.
  const swapped = await held();
  const [a, b] = Object.keys(swapped.feeds) as [string, string];
  const [first, second] = [swapped.feeds[a], swapped.feeds[b]];
  if (!first || !second) throw new Error("two feeds expected");
  swapped.feeds = { [a]: { ...first, key: second.key }, [b]: { ...second, key: first.key } };
  await fetch(`${world.running.standinAddress("desk-encoder")}/v1/config`, {
    method: "PUT",
    headers: { "content-type": "application/json" },
    body: JSON.stringify(swapped),
  });
  const differs = (await world.call<RigNow>("POST", `${E}/rig/read-back`)).body.readBack;
  expect(differs?.fields.filter((f) => !f.equal).map((f) => f.field)).toEqual(["key", "key"]);
  expect((await step("send")).status).toBe(409);
  await world.call("POST", `${E}/rig/configure`);

  // Samples and log lines come down the stream as they are made.
  const heard: StreamMessage[] = [];
  const listening = new AbortController();
  const stream = await fetch(`${world.running.address}/api${E}/stream`, { signal: listening.signal });
  const reading = (async () => {
    const decoder = new TextDecoder();
    let text = "";
    for await (const chunk of stream.body as unknown as AsyncIterable<Uint8Array>) {
      text += decoder.decode(chunk, { stream: true });
      const parts = text.split("\n\n");
      text = parts.pop() ?? "";
      for (const part of parts) {
        const data = /^data: ?(.*)$/m.exec(part)?.[1];
        if (data?.startsWith("{")) heard.push(JSON.parse(data) as StreamMessage);
      }
    }
  })().catch(() => undefined);

  await Promise.all([step("send"), step("send")]);
  expect((await log()).filter((l) => l.kind === "step-done" && l.data.step === "send")).toHaveLength(1);
  expect((await world.call("PUT", `${E}/fit`, choice())).body.detail).toContain("is sending");
  expect((await world.call("POST", `${E}/rig/configure`)).status).toBe(409);
  await until(
    async () => (await step("watch")).status,
    (status) => status === 200,
  );
  await Promise.all([step("public", "public"), step("public", "public")]);
  expect((await log()).filter((l) => l.data.step === "public")).toHaveLength(1);
  expect((await world.call("POST", `${E}/lineup/unsend`)).body.detail).toContain("frozen picture");

  // The line is cut; it switches by itself; the server dies in the middle and takes up where it was.
  await until(air, (now) => now.feeds.every((f) => f.verdict?.health === "steady"));
  await trouble({ kind: "cut" });
  await until(air, (now) => now.active === "backup");
  const samplesOf = async () => (await world.call<Sample[]>("GET", `${E}/air/samples?seconds=600`)).body;
  const [before, beforeSamples] = [await log(), await samplesOf()];
  process.kill(world.running.serverPid(), "SIGKILL");
  await world.running.restarted();
  const after = await log();
  expect(after.slice(0, before.length)).toEqual(before);
  const ats = new Set((await samplesOf()).map((s) => s.at));
  for (const sample of beforeSamples) expect(ats.has(sample.at)).toBe(true);
  expect(await air()).toMatchObject({ running: true, broadcast: "public", active: "backup" });
  expect(after.find((l) => l.kind === "server-started-again")?.data.gapS).toBeLessThan(20);
  expect((await world.call<EventNow>("GET", E)).body.next).toBe("air");

  // The samples go on, one a second for each feed.
  const resumed = await until(samplesOf, (all) => all.length >= beforeSamples.length + 6);
  const seconds = resumed.filter((s) => s.feedId === resumed[0]?.feedId).map((s) => Math.floor(Date.parse(s.at) / 1000));
  expect(new Set(seconds).size).toBe(seconds.length);
  await trouble({ kind: "recover" });
  await until(air, (now) => now.feeds.every((f) => f.verdict?.health === "steady"));
  await Promise.all([world.call("POST", `${E}/air/switch`, { to: "main" }), world.call("POST", `${E}/air/switch`, { to: "main" })]);
  expect((await log()).filter((l) => l.kind === "switch" && l.data.decision?.reason === "by-hand")).toHaveLength(1);

  // The end: the platform first; then it is over for good.
  expect((await step("stop")).body).toMatchObject({ status: 409, mend: "First: end." });
  await step("end", "end");
  await step("end", "end");
  await step("stop");
  await step("stop");
  const now = (await world.call<EventNow>("GET", E)).body;
  expect(now).toMatchObject({ broadcast: "ended", stages: { wrap: "done" } });
  expect(now.finishedAt).not.toBeNull();
  const report = (await world.call<Report>("GET", `${E}/report`)).body;
  expect(report.incidents).toMatchObject([{ worst: expect.stringMatching(/broken|silent/), cause: "uplink" }]);
  expect(report.incidents[0]?.endedAt).not.toBeNull();
  expect(report.secondsBy.broken + report.secondsBy.silent).toBeGreaterThan(3);
  expect(report.switches).toBe(2);
  expect(JSON.stringify(report)).not.toContain(key);
  expect((await world.call("POST", `${E}/rig/configure`)).body.detail).toContain("wrapped up");

  listening.abort();
  await reading;
  expect(heard.some((m) => m.type === "samples")).toBe(true);
  expect(heard.some((m) => m.type === "log" && m.lines.some((l) => l.data.step === "public"))).toBe(true);
}, 180_000);
