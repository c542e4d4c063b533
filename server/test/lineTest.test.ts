import type { LineTestJob, LineTestMessage } from "@ukaza/contract/lineTest";
import { quantile } from "@ukaza/core/stats";
import type { LineModel } from "@ukaza/core/survey/lineModel";
import { ownIpBps } from "@ukaza/core/survey/ownRate";
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
  probes: 60,
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
] as const)("a line set to %s is found within 5 %% and 2 ms, median of three runs", async (id, capacityBps, rttMs) => {
  const runs = [];
  for (let i = 0; i < 3; i++) runs.push(resultOf(await runTest(job(id), () => undefined)));
  const rates = runs.map((r) => ownIpBps({ rateBps: 1, layer: "tcp", seriesBps: r.seriesBps }));
  console.log(
    id,
    rates,
    runs.map((r) => [r.rttMs, r.jitterMs, r.lossRatio, r.seriesBps.length]),
  );
  expect(Math.abs(median(rates) / capacityBps - 1)).toBeLessThan(0.05);
  expect(Math.abs(median(runs.map((r) => r.rttMs)) - rttMs)).toBeLessThan(2);
});
