import { readFileSync } from "node:fs";
import type { AirNow, LogLine, Sample } from "@ukaza/contract/air";
import type { EventNow } from "@ukaza/contract/event";
import type { RigNow } from "@ukaza/contract/rig";
import type { Report } from "@ukaza/contract/wrap";
import type { Page } from "playwright-core";
import { holdButton, startWorld, type World } from "./world";

const EVENT = "/events/opening-concert";
let world: World;
let page: Page;

beforeAll(async () => {
  world = await startWorld(0.4);
});
afterAll(async () => {
  await world.close();
});

const button = (name: string | RegExp) => page.getByRole("button", { name });
const see = (text: string | RegExp, timeout = 20_000) => page.getByText(text).first().waitFor({ timeout });
/** Waits for a picture taken along the way, only when somebody asked for pictures. */
const shot = async (name: string) => {
  if (process.env.SHOTS) await page.screenshot({ path: `${process.env.SHOTS}/${name}.png` });
};

test("from a measured line to a finished stream, on a phone", async () => {
  // 1. Events
  page = await world.open("/");
  await see("Opening concert");
  await see("Choral evensong");
  await see("Cliff-top finale");
  await see("Finished. The report is ready.");
  await page.getByRole("link", { name: /Opening concert/ }).click();
  await page.getByRole("navigation", { name: "Stages" }).getByRole("link", { name: "Survey: done" }).click();

  // 2. Survey: the evidence in words, and one more test by hand; survey.test.ts goes through the rest.
  await see(/72 tests, \d+ near show time/);
  await see(/9 of 10 tests at this hour are above|The slowest of them was/);
  await page.getByRole("radio", { name: "Tests", exact: true }).click();
  await button("Add by hand").click();
  await page.getByRole("textbox", { name: "Taken at, on the venue's clock" }).fill("2026-06-09 20:15");
  await button("Add the test").click();
  await see("A test has a rate above 0.");
  await page.getByRole("textbox", { name: "Upload rate, Mb/s" }).fill("16,5");
  await button("Add the test").click();
  await see("Tests (73)");

  // 3. Fit: the best plan, an override that blocks, its mend, and the choice.
  await button("Go to Fit").click();
  await see(/The best use of these lines: 4 of 4 served/);
  await shot("fit");
  await button("More of Oriel Public").click();
  await button("Change the settings by hand").click();
  await page.getByRole("textbox", { name: "Audio bitrate, kb/s" }).fill("320");
  await see(/Audio at 320 kb\/s is over the platform's maximum of 256 kb\/s/);
  await page.waitForFunction(() => document.querySelector('[aria-label="Use this plan"]')?.getAttribute("aria-disabled") === "true");
  await button("Set audio bitrate 256 kb/s").click();
  await page.getByRole("textbox", { name: "Video bitrate, kb/s" }).fill("14000");
  await see(/the line .*can use|it can use/);
  await page.getByRole("img", { name: /Hall fibre: load [\d.]+ Mb\/s .* Over by/ }).waitFor();
  await page.getByRole("radio", { name: "30", exact: true }).click();
  await see(/does not go evenly into the camera's/);
  await shot("fit-findings");
  await button("Back to the best").click();
  await see("Nothing speaks against these settings");
  await see(/The best use of these lines: 4 of 4 served/);
  await button("Use this plan").click();
  await see(/^The event goes by this plan: 4 of 4 served/);

  // 4. Rig: broadcast, keys masked, configured, read back; a reveal is asked twice and logged.
  await button("Go to Rig").click();
  await button("Create the broadcast").click();
  await see("Main ingest");
  const keys = await page.getByLabel("Stream key, hidden").allTextContents();
  expect(keys).toHaveLength(2);
  for (const key of keys) expect(key).toMatch(/^•{8}.{4}$/);
  await button("Configure the encoder").click();
  await see(/All \d+ fields are as told/);
  await button("Show the main key").click();
  await button("Show it").click();
  const shown = (await page.getByLabel("Stream key, shown").textContent()) ?? "";
  expect(shown.endsWith(keys[0]?.slice(-4) ?? "?")).toBe(true);
  await button("Hide the main key").click();
  expect(await page.content()).not.toContain(shown);
  const log = await world.api<LogLine[]>("GET", `${EVENT}/log`);
  expect(log.some((line) => line.kind === "key-revealed")).toBe(true);
  expect(JSON.stringify(log)).not.toContain(shown);

  // Somebody turns a knob on the encoder: reading back shows it.
  const encoder = world.running.standinAddress("desk-encoder");
  const held = await (await fetch(`${encoder}/v1/config`)).json();
  held.engine.settings.keyframeS = 5;
  await fetch(`${encoder}/v1/config`, { method: "PUT", headers: { "content-type": "application/json" }, body: JSON.stringify(held) });
  await button("Read again").click();
  await see("1 of 19 fields differ");
  await see("told: 2 s");
  await shot("rig-differs");
  await button("Configure the encoder again").click();
  await see("All 19 fields are as told");

  // 5. Line-up: one step after the other; public only by holding.
  await button("Go to Line-up").click();
  await page
    .getByTestId("step-public")
    .getByText(/First: someone watches the preview/)
    .waitFor();
  await button("Start sending").click();
  await see(/Usually there after \d+ s; \d+ s so far\./);
  await shot("lineup-waiting");
  await button("I have watched the preview").click({ timeout: 60_000 });
  await see("This cannot be taken back.");
  await button(/^Go public\./).click();
  await see("Keep it pressed for one second. Nothing has happened yet.");
  expect((await world.api<EventNow>("GET", EVENT)).broadcast).toBe("sending");
  await holdButton(page, /^Go public\./);
  await see(/^Public on Oriel Public/);

  // 6. Air: the clock, then trouble: strained, broken, the automatic switch, recovery, and back by hand.
  await button("Go to Air").click();
  await see(/On air since/);
  await see("All feeds are steady.");
  await page.getByRole("button", { name: /Oriel Public: Steady/ }).waitFor();
  await shot("air-steady");
  await button("Trouble sheet (demo)").click();
  await button("Sink Hall fibre").click();
  await see(/Hall fibre: sunk/);
  await button("Close").click();
  await see(/The uplink is at fault: .*% of the target/, 30_000);
  await see("Strained");
  await shot("air-strained");
  await button("Trouble sheet (demo)").click();
  await button("Cut Hall fibre").click();
  await button("Close").click();
  await see(/Switched from main to backup \(auto: the main feed broke\)/, 40_000);
  await see("Backup feed over Crew hotspot");
  await shot("air-switched");

  // The browser is closed and the server killed; started again, the event is where it was.
  const before = await world.api<LogLine[]>("GET", `${EVENT}/log`);
  const lastSeen = (await world.api<Sample[]>("GET", `${EVENT}/air/samples?seconds=60`)).at(-1);
  await page.close();
  process.kill(world.running.serverPid(), "SIGKILL");
  await world.running.restarted();
  const after = await world.api<LogLine[]>("GET", `${EVENT}/log`);
  expect(after.slice(0, before.length)).toEqual(before);
  expect(after.some((line) => line.kind === "server-started-again" && (line.data.gapS ?? 99) < 15)).toBe(true);
  const kept = await world.api<Sample[]>("GET", `${EVENT}/air/samples?seconds=120`);
  expect(kept.some((s) => s.at === lastSeen?.at)).toBe(true);
  const air = await world.api<AirNow>("GET", `${EVENT}/air`);
  expect(air).toMatchObject({ running: true, broadcast: "public", active: "backup" });

  page = await world.open(`${EVENT}/air`);
  await see(/The server started again and picked the event up where it was/);
  await button("Trouble sheet (demo)").click();
  await button("Recover Hall fibre").click();
  await button("Close").click();
  await see("All feeds are steady.", 40_000);
  await button(/Open charts and actions/).click();
  await holdButton(page, /^Switch to main/);
  await see(/viewers have this/);
  await button("Close").click();
  await see(/Switched from backup to main \(by hand\)/);

  // 7. Wrap: the platform first, then the encoder, then the report and its files.
  await button("End the broadcast in Wrap").click();
  await see(/End on Oriel Public first, then stop the encoder/);
  await holdButton(page, /^End the broadcast\./);
  await holdButton(page, /^Stop the encoder\./);
  await see("Done. Everything is off, and the report is below.");
  await see("Availability");
  await shot("wrap");
  const [json] = await Promise.all([page.waitForEvent("download"), button("Download the report as JSON").click()]);
  const report = JSON.parse(readFileSync(await json.path(), "utf8")) as Report;
  expect(report).toMatchObject({ format: "ukaza-report", standins: true, switches: 2 });
  expect(report.incidents.length).toBeGreaterThanOrEqual(1);
  expect(report.availability).toBeLessThan(1);
  const [csv] = await Promise.all([page.waitForEvent("download"), button("Download the report as CSV").click()]);
  expect(readFileSync(await csv.path(), "utf8")).toContain("actual,availability,,");
  const rig = await world.api<RigNow>("GET", `${EVENT}/rig`);
  expect(JSON.stringify({ report, rig })).not.toContain(shown);
  await page.getByRole("link", { name: "← Events" }).click();
  await see("Finished. The report is ready.");
  expect(world.complaints).toEqual([]);
}, 300_000);
