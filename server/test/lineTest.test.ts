import { createSocket } from "node:dgram";
import { connect, createServer } from "node:net";
import type { LineTestJob, LineTestMessage, LineTestProgress } from "@ukaza/contract/lineTest";
import { mean, quantile } from "@ukaza/core/stats";
import type { LineModel } from "@ukaza/core/survey/lineModel";
import { toIpBps } from "@ukaza/core/survey/ownRate";
import { readProbe, writeProbe } from "@ukaza/core/survey/probe";
import { Line } from "../../standins/line/line";
import { runTest } from "../lineTest/runTest";
import { type Reflector, startReflector } from "../reflector/reflector";

/** A line that never changes, so that what was set is what must be found. */
const steadyModel = (meanBps: number, rttMs: number, lossRatio: number): LineModel => ({
  meanBps,
  daily: { share: 0, bestMinute: 0 },
  crowd: { share: 0, fromMinute: 0, fullMinute: 1, untilMinute: 2 },
  wander: { rho: 0, sigma: 0 },
  outage: { perSecond: 0, endsPerSecond: 1, leftShare: 1 },
  loss: { toBad: 0, toGood: 1, good: lossRatio, bad: lossRatio },
  rttMs,
});

const models = { four: steadyModel(4e6, 40, 0), twelve: steadyModel(12e6, 22, 0.04), forty: steadyModel(40e6, 8, 0) };
let reflector: Reflector;
let line: Line;

beforeAll(async () => {
  reflector = await startReflector({ host: "127.0.0.1", port: 0 });
  line = new Line(models, 1, "Europe/London");
  await line.openEntries({ host: "127.0.0.1", port: reflector.port });
});
afterAll(async () => {
  await line.close();
  await reflector.close();
});

const entryOf = (id: string) => line.list().find((u) => u.id === id)?.entry ?? { host: "", port: 0 };
const job = (id: string, more: Partial<LineTestJob> = {}): LineTestJob => ({
  ...entryOf(id),
  localAddress: null,
  connections: 4,
  uploadS: 5,
  probes: 150,
  probeEveryMs: 10,
  ...more,
});
function resultOf(message: LineTestMessage) {
  if (message.kind !== "result") throw new Error(JSON.stringify(message));
  return message;
}
const median = (values: (number | null)[]) =>
  quantile(
    values.map((v) => v ?? Number.NaN),
    0.5,
  ) ?? Number.NaN;

test.each([
  ["four", 4e6, 40],
  ["twelve", 12e6, 22],
  ["forty", 40e6, 8],
] as const)("a line set to %s is found within 5 %% and 2 ms, median of five runs", async (id, capacityBps, rttMs) => {
  const runs = [];
  for (let i = 0; i < 5; i++) runs.push(resultOf(await runTest(job(id), () => undefined)));
  const rates = runs.map((r) => toIpBps(mean(r.seriesBps) ?? 0, "tcp"));
  expect(Math.abs(median(rates) / capacityBps - 1)).toBeLessThan(0.05);
  // A starved machine adds to a round trip and never takes off: the run least disturbed shows the line.
  const trips = runs.map((r) => r.rttMs ?? Number.NaN);
  expect(Math.min(...trips)).toBeGreaterThan(rttMs - 0.5);
  expect(Math.min(...trips) - rttMs).toBeLessThan(2);
});

describe("what goes wrong is said in words", () => {
  const failure = async (more: Partial<LineTestJob>, id = "four") => {
    const message = await runTest(job(id, { uploadS: 2, probes: 5, ...more }), () => undefined);
    return message.kind === "failed" ? message.reason : JSON.stringify(message);
  };

  test("nobody listens, no such name, no such address of this machine", async () => {
    const closed = await startReflector({ host: "127.0.0.1", port: 0 });
    await closed.close();
    expect(await failure({ port: closed.port })).toMatch(/nothing listens at 127\.0\.0\.1:\d+; start the reflector there/);
    expect(await failure({ host: "no-such-host.invalid" })).toMatch(/the name no-such-host\.invalid is not known/);
    expect(await failure({ localAddress: "203.0.113.9" })).toBe(
      "this machine has no address 203.0.113.9; write the one it has on this uplink",
    );
  });

  test("a cut line: nothing arrives, and every probe is lost", async () => {
    line.setTrouble("four", { kind: "cut" });
    expect(await failure({})).toMatch(/nothing arrived at the reflector/);
    line.setTrouble("four", { kind: "recover" });
  });

  test("somebody who is no reflector", async () => {
    const other = createServer((socket) => {
      socket.on("error", () => undefined);
      socket.resume();
      socket.end("220 welcome\r\n");
    });
    await new Promise<void>((resolve) => other.listen(0, "127.0.0.1", resolve));
    expect(await failure({ port: (other.address() as { port: number }).port })).toMatch(/nothing arrived at the reflector/);
    await new Promise((resolve) => other.close(resolve));
  });
});

test("it tells how far it is, and what gets through", async () => {
  const said: LineTestProgress[] = [];
  await runTest(job("twelve", { uploadS: 4 }), (progress) => said.push(progress));
  expect(said.map((p) => p.phase).filter((phase, i, all) => phase !== all[i - 1])).toEqual(["reaching", "probing", "uploading"]);
  const rates = said.flatMap((p) => (p.rateBps === null ? [] : [p.rateBps]));
  // The figure of one second, told while it runs: a busy machine may shift bytes from it to the next.
  expect(Math.abs(median(rates) / 12e6 - 1)).toBeLessThan(0.5);
  expect(rates.length).toBeGreaterThan(3);
});

test("loss is what the line drops, by the reflector's own count", async () => {
  const { lossRatio } = resultOf(await runTest(job("twelve", { uploadS: 2, probes: 1_000, probeEveryMs: 5 }), () => undefined));
  // 4 % of 1,000: three standard deviations are 1.9 %. The line's chance is seeded.
  expect(Math.abs(lossRatio - 0.04)).toBeLessThan(0.019);
});

describe("the reflector", () => {
  const speak = (text: string) =>
    new Promise<string>((resolve) => {
      const socket = connect(reflector.port, "127.0.0.1", () => socket.write(text));
      let said = "";
      socket.on("data", (chunk) => {
        said += chunk.toString();
      });
      socket.on("error", () => undefined);
      socket.on("close", () => resolve(said));
    });

  test("turns away what has no hello, and counts the bytes of what has", async () => {
    expect(await speak("GET / HTTP/1.1\r\n\r\n")).toContain("wants its own hello");
    expect(await speak('{"reflector":1,"session":"not hex"}\n')).toContain("wants its own hello");
    expect(await speak("x".repeat(5_000))).toBe("");
    const counted = await new Promise<number>((resolve) => {
      const socket = connect(reflector.port, "127.0.0.1", () => {
        socket.write(`{"reflector":1,"session":"${"0a".repeat(8)}"}\n`);
        socket.write(Buffer.alloc(70_000));
      });
      let said = "";
      socket.on("data", (chunk) => {
        said += chunk.toString();
        const last = said.trim().split("\n").at(-1) ?? "{}";
        if (!last.endsWith("}") || JSON.parse(last).bytes < 70_000) return;
        socket.destroy();
        resolve(JSON.parse(last).bytes);
      });
    });
    expect(counted).toBe(70_000);
  });

  test("answers probes with as many bytes as were asked with, and nothing else at all", async () => {
    const udp = createSocket("udp4");
    const answers: Buffer[] = [];
    udp.on("message", (bytes) => answers.push(bytes));
    udp.send(Buffer.from("hello"), reflector.port, "127.0.0.1");
    udp.send(Buffer.alloc(1_200), reflector.port, "127.0.0.1");
    const probe = { session: "0b".repeat(8), number: 7, sentMs: 1, receivedMs: 0, come: 0 };
    udp.send(writeProbe(probe, 300), reflector.port, "127.0.0.1");
    await new Promise<void>((resolve) => udp.once("message", () => resolve()));
    // What was sent before the probe would have been answered before it.
    expect(answers.map((a) => a.length)).toEqual([300]);
    expect(readProbe(answers[0] ?? new Uint8Array())).toMatchObject({ ...probe, receivedMs: expect.any(Number), come: 1 });
    udp.close();
  });
});
