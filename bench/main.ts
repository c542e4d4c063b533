import { mkdtempSync, readdirSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { gzipSync } from "node:zlib";
import type { Sample } from "@ukaza/contract/air";
import { fitProblem } from "@ukaza/contract/fit";
import { platformFile } from "@ukaza/contract/library";
import { solve } from "@ukaza/core/fit/plan/solve";
import { feedLoad } from "@ukaza/core/media/load";
import type { Browser } from "playwright-core";
import { bestChoice } from "../core/test/kit";
import { loadDemo } from "../demo/load";
import { openBrowser, phone } from "../e2e/browser";
import { launch } from "../scripts/launch";
import { openDb } from "../server/db/open";
import { insertSamples } from "../server/live/store";
import { fitMany, forecastShows, stepDowns } from "./fit";
import { checks } from "./rules";
import { line, median, timed } from "./say";
import { analysis, bigImport } from "./survey";

/** Prints what was measured beside its budget and beside a reference that ran at the same time. Nothing is asserted. */
const root = join(__dirname, "..");
function bundle(): void {
  const folder = join(root, "app/dist/_expo/static/js/web");
  // What the list of events loads; the other screens' own pieces come when they are opened, the workers when they are used.
  const first = readdirSync(folder).filter((name) => /^(entry|__common|__expo-metro-runtime|_layout|index)-/.test(name));
  const raw = Buffer.concat(first.map((name) => readFileSync(join(folder, name))));
  const kb = first.reduce((sum, name) => sum + gzipSync(readFileSync(join(folder, name)), { level: 9 }).length, 0) / 1000;
  line(
    "first load, gzipped JavaScript",
    `${kb.toFixed(0)} kB`,
    "600 kB",
    `${(raw.length / 1000 / kb).toFixed(1)} times smaller than unpacked`,
  );
}

function singleFit(): void {
  const { sheet } = platformFile.parse(JSON.parse(readFileSync(join(root, "demo/platforms/oriel-public.json"), "utf8")));
  const encoder = JSON.parse(readFileSync(join(root, "demo/kit/desk-encoder.json"), "utf8"));
  const problem = fitProblem.parse({
    uplinks: [
      { id: "a", usableBps: 11_000_000 },
      { id: "b", usableBps: 5_900_000 },
    ],
    encoders: [encoder],
    destinations: [{ id: "d", sheet, backup: true }],
    source: { width: 1920, height: 1080, frameRate: "50", scan: "progressive" },
    content: "stage",
  });
  const answer = solve(problem);
  if (answer.kind !== "fit") throw new Error("the bench problem has no fit");
  const ours = timed(() => solve(problem), 200);
  // Reference: the load of every 100 kb/s step of every mode, rate and route, one by one, without its search by halves.
  const settings = answer.plan.destinations[0]?.settings;
  if (!settings) throw new Error("the bench problem serves nobody");
  const everyStep = timed(() => {
    for (const mode of sheet.modes)
      for (const frameRate of mode.frameRates)
        for (let route = 0; route < 2; route++)
          for (let videoBps = mode.minBps; videoBps <= mode.maxBps; videoBps += 100_000)
            feedLoad({ ...settings, width: mode.width, height: mode.height, frameRate, videoBps });
  }, 200);
  line(
    "single fit with alternatives and gains",
    `${ours.toFixed(2)} ms`,
    "5 ms",
    `${(ours / everyStep).toFixed(1)} times one pass over the load of every step (${everyStep.toFixed(2)} ms)`,
  );
}

async function append(): Promise<void> {
  const db = await openDb(null);
  await db.exec(
    "insert into venues values ('v','V','UTC',''); insert into uplinks (id, venue_id, position, name, kind, note) values ('u','v',0,'U','wired',''); insert into encoders values ('k','{}'); insert into events values ('e', now(), '{}', null)",
  );
  const feeds = Array.from({ length: 100 }, (_, i) => `f-${i}`);
  for (const id of feeds) await db.query("insert into feeds values ($1,'e',$2,'main','k','u',1,'{}')", [id, `d-${id}`]);
  const batch = (minute: number): Sample[] =>
    feeds.flatMap((feedId) =>
      Array.from({ length: 60 }, (_, s) => ({
        feedId,
        at: new Date(1_780_000_000_000 + (minute * 60 + s) * 1000).toISOString(),
        targetBps: 5_000_000,
        sentBps: 4_990_000 + s,
        receivedBps: 4_980_000,
        framesEncoded: 25,
        framesDropped: 0,
        frameRateHz: 25,
        encoderLoad: 0.5,
        queueMs: 12.5,
        rttMs: 20.1,
        retransmittedShare: 0.001,
        reconnects: 0,
        keyframeS: 2,
        audioDb: -23.4,
        pictureChange: 0.123,
        platform: "good",
      })),
    );
  const ours: number[] = [];
  const one: number[] = [];
  for (let minute = 0; minute < 7; minute++) {
    const samples = batch(minute);
    const start = performance.now();
    await insertSamples(db, samples);
    ours.push(performance.now() - start);
    // Reference in the same run: a twentieth of them row by row, scaled up.
    const few = batch(1_000 + minute).slice(0, 300);
    const began = performance.now();
    for (const sample of few) await insertSamples(db, [sample]);
    one.push((performance.now() - began) * 20);
  }
  await db.close();
  line(
    "append 100 feeds × 60 samples",
    `${median(ours).toFixed(0)} ms`,
    "150 ms",
    `${(median(one) / median(ours)).toFixed(0)} times faster than row by row`,
  );
}

/** Frames a second that the page draws while 2,000 shows run in the worker, beside those it draws at rest. */
async function framesWhileForecasting(browser: Browser, address: string): Promise<void> {
  const page = await (await browser.newContext({ viewport: phone })).newPage();
  await page.goto(`${address}/events/opening-concert/fit`);
  const start = page.getByRole("button", { name: "Forecast 2,000 shows" });
  await start.waitFor({ timeout: 60_000 });
  await page.waitForTimeout(5_000);
  // As text: what turns this file into JavaScript gives functions names by a helper that the page does not have.
  const { busy, rest, seconds } = await page.evaluate<{ busy: number; rest: number; seconds: number }>(`(async () => {
    const frame = () => new Promise((done) => requestAnimationFrame(done));
    const running = () => document.querySelector('[role="progressbar"][aria-label$="of 2000 shows"]') !== null;
    const count = async (on) => {
      const began = await frame();
      let [frames, at] = [0, began];
      for (; on(at - began); frames++) at = await frame();
      return { perS: (frames * 1000) / (at - began), seconds: (at - began) / 1000 };
    };
    const still = await count((ms) => ms < 3000);
    document.querySelector('[role="button"][aria-label="Forecast 2,000 shows"]').click();
    while (!running()) await frame();
    const forecast = await count(running);
    return { busy: forecast.perS, rest: still.perS, seconds: forecast.seconds };
  })()`);
  await page.context().close();
  line("forecast of 2,000 shows in the worker", `${seconds.toFixed(1)} s`, "10 s", "opening concert, three plans; with the page beside it");
  line(
    "frames while the forecast runs",
    `${busy.toFixed(0)} a second`,
    "60 a second",
    `${(busy / rest).toFixed(2)} of the ${rest.toFixed(0)} a second at rest`,
  );
}

/** From an existing data folder until the server answers; and from a sample being taken until it stands on the screen. */
async function running(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), "ukaza-bench-"));
  const options = { port: 0, dataFolder: folder, webFolder: join(root, "app/dist"), waits: 0.05, logLevel: "silent" };
  const world = await launch(options);
  await loadDemo(world.address, new Date());
  const starts: number[] = [];
  for (let i = 0; i < 3; i++) {
    const began = performance.now();
    process.kill(world.serverPid(), "SIGKILL");
    await world.restarted();
    starts.push(performance.now() - began);
  }
  line("server ready with an existing data folder", `${(median(starts) / 1000).toFixed(2)} s`, "3 s", "median of 3, killed each time");

  const call = async (method: string, path: string, body: unknown = {}) =>
    (
      await fetch(`${world.address}/api/events/opening-concert/${path}`, {
        method,
        headers: { "content-type": "application/json" },
        ...(method === "GET" ? {} : { body: JSON.stringify(body) }),
      })
    ).json();
  await call("PUT", "fit", bestChoice((await call("GET", "fit")).problem).choice);
  await call("POST", "rig/broadcast");
  await call("POST", "rig/configure");
  await call("POST", "lineup/steps/send");
  for (let i = 0; i < 100 && (await call("POST", "lineup/steps/watch")).status === 409; i++)
    await new Promise((resolve) => setTimeout(resolve, 200));
  await call("POST", "lineup/steps/public", { confirm: "public" });
  const browser = await openBrowser();
  await framesWhileForecasting(browser, world.address);
  const page = await (await browser.newContext({ viewport: phone })).newPage();
  await page.goto(`${world.address}/events/opening-concert/air`);
  await page.getByTestId("sent").first().waitFor();
  const delays = await page.evaluate(async () => {
    const found: number[] = [];
    const seen = new Set<string>();
    const watcher = new MutationObserver(() => {
      const at = document.querySelector('[data-testid="sent"]')?.getAttribute("data-at");
      if (!at || seen.has(at)) return;
      seen.add(at);
      found.push(Date.now() - Date.parse(at));
    });
    watcher.observe(document.body, { subtree: true, childList: true, attributes: true, characterData: true });
    await new Promise((resolve) => setTimeout(resolve, 60_000));
    return found;
  });
  await browser.close();
  await world.stop();
  rmSync(folder, { recursive: true, force: true });
  line(
    "sample on screen after being taken",
    `${median(delays).toFixed(0)} ms`,
    "300 ms",
    `median of ${delays.length} in 60 s, most ${Math.max(...delays)} ms`,
  );
}

async function main(): Promise<void> {
  bundle();
  singleFit();
  await fitMany();
  stepDowns();
  forecastShows();
  analysis();
  checks(root);
  await append();
  await bigImport(join(root, "app/dist"));
  await running();
}

void main();
