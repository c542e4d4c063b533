import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { seeded } from "@ukaza/core/random";
import { analyse } from "@ukaza/core/survey/analyse";
import type { Reading } from "@ukaza/core/survey/reading";
import { loadDemo } from "../demo/load";
import { openBrowser, phone } from "../e2e/browser";
import { launch } from "../scripts/launch";
import { line, timed } from "./say";

const TESTS = 100_000;
const SEED = 20_261;

/** Three years of tests, some of them odd. */
function manyReadings(): Reading[] {
  const random = seeded(SEED);
  const from = Date.parse("2023-11-01T00:00:00Z");
  return Array.from({ length: TESTS }, (_, i) => ({
    id: `m-${i}`,
    takenAtMs: from + Math.floor((i / TESTS) * 3 * 365 * 86_400_000),
    ownIpBps: Math.round(8e6 + 12e6 * random()),
    floor: random() < 0.01,
    excluded: random() < 0.005 ? "bench" : null,
    source: "csv",
    rttMs: 10 + 30 * random(),
    jitterMs: null,
    lossRatio: random() < 0.1 ? 0.01 : 0,
  }));
}

/** The whole analysis of 100,000 tests beside one plain pass over them that finds least, mean and most. */
export function analysis(): void {
  const readings = manyReadings();
  const show = { start: "2026-11-23T19:30:00Z", end: "2026-11-23T21:30:00Z" };
  const question = { show, timeZone: "Europe/London", asOf: "2026-11-23T12:00:00Z", reserveOverride: null };
  const first = timed(() => analyse(readings, question), 1);
  const ours = timed(() => analyse(readings, question), 5);
  let kept = 0;
  const plain = timed(() => {
    let least = Number.POSITIVE_INFINITY;
    let most = 0;
    let sum = 0;
    for (const r of readings) {
      if (r.floor || r.excluded !== null) continue;
      const minute = Math.floor(r.takenAtMs / 60_000) % 1440;
      least = Math.min(least, r.ownIpBps);
      most = Math.max(most, r.ownIpBps);
      sum += r.ownIpBps + minute;
    }
    kept = least + most + sum;
  }, 5);
  line(
    "analysis of 100,000 measurements",
    `${ours.toFixed(0)} ms`,
    "as is",
    `${(ours / plain).toFixed(0)} times one plain pass (${plain.toFixed(1)} ms); ${first.toFixed(0)} ms the first time; seed ${SEED}${kept === 0 ? "!" : ""}`,
  );
}

/** 100,000 measurements through the page's import, while the page and the server are asked whether they still answer. */
export async function bigImport(webFolder: string): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), "ukaza-bench-"));
  const world = await launch({ port: 0, dataFolder: folder, webFolder, waits: 1, logLevel: "silent" });
  await loadDemo(world.address, new Date());
  const browser = await openBrowser();
  const page = await (await browser.newContext({ viewport: phone })).newPage();
  await page.goto(`${world.address}/events/opening-concert/survey`);
  await page.getByRole("radio", { name: "Tests", exact: true }).click();
  await page.getByRole("button", { name: "Import a file" }).click();
  const rows = manyReadings().map(
    (r) => `${new Date(r.takenAtMs).toISOString()},${(r.ownIpBps / 1e6).toFixed(3)},${r.rttMs?.toFixed(1)},${r.lossRatio}`,
  );
  const text = `time,rate_mbps,rtt_ms,loss_ratio\n${rows.join("\n")}\n`;
  // From the disk: a buffer would be unpacked by the page itself.
  const path = join(folder, "years.csv");
  writeFileSync(path, text);
  // A tick every 10 ms: the longest time between two is the longest that the page did not answer.
  await page.evaluate(() => {
    const state = { last: performance.now(), gaps: [] as number[] };
    (window as unknown as { ticks: typeof state }).ticks = state;
    setInterval(() => {
      const now = performance.now();
      state.gaps.push(now - state.last - 10);
      state.last = now;
    }, 10);
  });
  const answers: number[] = [];
  let asking = true;
  const ask = (async () => {
    while (asking) {
      const sent = performance.now();
      await (await fetch(`${world.address}/api/events/opening-concert`)).arrayBuffer();
      answers.push(performance.now() - sent);
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
  })();
  const began = performance.now();
  const [chooser] = await Promise.all([page.waitForEvent("filechooser"), page.getByRole("button", { name: "Choose a file" }).click()]);
  await chooser.setFiles(path);
  await page.getByRole("button", { name: /^Take the \d+ tests$/ }).click({ timeout: 120_000 });
  const read = performance.now();
  await page.getByText(/years\.csv: \d+ added/).waitFor({ timeout: 300_000 });
  await page.getByText(/^Tests \(100\d{3}\)$/).waitFor({ timeout: 60_000 });
  const done = performance.now();
  asking = false;
  await ask;
  const gaps = await page.evaluate(() => (window as unknown as { ticks: { gaps: number[] } }).ticks.gaps);
  await browser.close();
  await world.stop();
  rmSync(folder, { recursive: true, force: true });
  const longest = (values: number[]) => values.reduce((a, b) => Math.max(a, b), 0);
  const late = (values: number[]) =>
    `${((values.filter((v) => v > 100).length / values.length) * 100).toFixed(2)} % of ${values.length} over 100 ms`;
  line(
    "page did not answer, longest, 100,000 tests in",
    `${longest(gaps).toFixed(0)} ms`,
    "100 ms",
    `${late(gaps)}; ${(text.length / 1e6).toFixed(1)} MB`,
  );
  line("server did not answer, longest, meanwhile", `${longest(answers).toFixed(0)} ms`, "as is", late(answers));
  line(
    "read and preview, then take and analyse",
    `${((done - began) / 1000).toFixed(1)} s`,
    "as is",
    `${((read - began) / 1000).toFixed(1)} s of it read and judged in the worker`,
  );
}
