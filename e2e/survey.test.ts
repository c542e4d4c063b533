import { readFileSync } from "node:fs";
import type { LineTest } from "@ukaza/contract/lineTest";
import type { Survey } from "@ukaza/contract/survey";
import type { Page } from "playwright-core";
import { wide } from "./browser";
import { startWorld, type World } from "./world";

const EVENT = "/events/opening-concert";
let world: World;
let page: Page;

beforeAll(async () => {
  world = await startWorld(0.4);
});
afterAll(async () => {
  await world.close();
});
afterEach(async () => {
  await page.context().close();
  expect(world.complaints).toEqual([]);
});

const button = (name: string | RegExp) => page.getByRole("button", { name, ...(typeof name === "string" ? { exact: true } : {}) }).first();
const field = (name: string) => page.getByRole("textbox", { name });
const see = (text: string | RegExp, timeout = 20_000) => page.getByText(text).first().waitFor({ timeout });
const pick = (name: string) => page.getByRole("radio", { name, exact: true }).click();
const uplink = (name: string) => page.getByRole("radio", { name: new RegExp(`^${name},`) }).click();

async function chooseFile(name: string, text: string): Promise<void> {
  const [chooser] = await Promise.all([page.waitForEvent("filechooser"), button(/^Choose (a|another) file$/).click()]);
  await chooser.setFiles({ name, mimeType: "text/plain", buffer: Buffer.from(text) });
}

test("a line is measured through its sockets, with its cost beforehand; one test is cancelled; tests are planned", async () => {
  page = await world.open(`${EVENT}/survey`);
  await uplink("Crew hotspot");
  await see(/26 more tests between 18:00 and 23:00|more tests between/);
  await pick("Measure");
  await see(/A test sends about .* MB over this line, at 4 per GB that is .* 43\.8 GB of 50 are left\./);
  await button("Measure now").click();
  await see(/Round trip, jitter and loss|Reaching the reflector/);
  await see(/Filling the line, \d+\.\d Mb\/s now/);
  await see(/, done, .* MB sent/, 40_000);
  const survey = await world.api<Survey>("GET", `${EVENT}/survey`);
  const hotspot = survey.uplinks.find((u) => u.uplink.id === "hall-hotspot");
  expect(hotspot?.result.total).toBe(10);
  expect(hotspot?.uplink.metered?.usedGb).toBeGreaterThan(6.2);

  await button("Measure now").click();
  await see(/Filling the line/);
  await button("Cancel the test").click();
  await see(/, cancelled/);

  await button("Plan tests").click();
  await pick("At these times");
  await field("Times on the venue's clock").fill("18:30, 25:00");
  await see('"25:00" is not a time of day; write 18:00, 18:30.');
  await pick("Every so many minutes");
  await pick("Each day until the show");
  await field("From").fill("00:00");
  await field("Until").fill("23:59");
  await field("Every, minutes").fill("1");
  // In the last minutes before the show's end nothing more can be planned; at any other time this is too many.
  await see(/That is more than 300 tests|tests?, \d+ near show time|gone by/);
  const soon = Date.now() + 30 * 60_000;
  await world.api("POST", "/uplinks/hall-hotspot/tests", {
    kind: "plan",
    at: [new Date(soon).toISOString(), new Date(soon + 60_000).toISOString()],
  });
  await page.reload();
  await uplink("Crew hotspot");
  await pick("Measure");
  await see("2 tests planned");
  await button(/^Cancel the test of/).click();
  await see("1 test planned");
  await button("Cancel all").click();
  await page.getByText("1 test planned").waitFor({ state: "detached" });
  const tests = await world.api<LineTest[]>("GET", "/uplinks/hall-hotspot/tests");
  expect(tests.filter((t) => t.state === "cancelled")).toHaveLength(3);

  await button("Test this phone's way").click();
  await see("Phone to server", 20_000);
  await see(/Roomy:|Narrow:/);
}, 150_000);

test("a file is asked about, shown row by row, taken and taken back; a test is excluded for a reason", async () => {
  page = await world.open(`${EVENT}/survey`);
  await pick("Tests");
  await button("Import a file").click();
  await chooseFile("evening.csv", "When;Upload;Ping (ms);Server\n03/06/2026 20:10;15,2;14;north\n03/06/2026 20:40;fast;15;north\n");
  await see('"03/06/2026 20:10" can be read in two ways. What stands first?');
  await pick("The day");
  await pick("Mb/s");
  await button("Read it so").click();
  await see('Upload: "fast" is not a number');
  await see("Columns passed over");
  await button("Take the test").click();
  await see("evening.csv: 1 added.");
  await see("Tests (73)");
  await button("Undo").click();
  await see("The import was taken back: 1 removed.");
  await see("Tests (72)");

  await button("Import a file").click();
  await chooseFile("hall.json", readFileSync(`${__dirname}/../core/test/fixtures/hall-tcp.json`, "utf8"));
  await button("Take the test").click();
  await see("hall.json: 1 added.");
  await button("Import a file").click();
  await chooseFile("hall.json", readFileSync(`${__dirname}/../core/test/fixtures/hall-tcp.json`, "utf8"));
  await see("is here already");
  await chooseFile("broken.json", readFileSync(`${__dirname}/../core/test/fixtures/hall-tcp.json`, "utf8").slice(0, 900));
  await see(/this is not whole JSON/);
  await page.keyboard.press("Escape");

  await pick("Rate");
  await pick("Rate ↓");
  await button(/counts for this show$/).click();
  await button("Exclude this test").click();
  await see("Say it in a few words, 3 to 200 characters.");
  await field("Why it should not count").fill("the stage crew had pulled the cable");
  await button("Exclude this test").click();
  await pick("Excluded");
  await button(/, excluded,/).click();
  await see("Excluded: the stage crew had pulled the cable. It stays on the list.");
  await button("Let it count again").click();
  await see("None of the tests is of this kind.");
}, 90_000);

test("a new venue and uplink; an export of another reads in as the same state; a long list stays light", async () => {
  page = await world.open("/venues", wide);
  await button("Add a venue").click();
  await field("Name").fill("Pier Shed");
  await field("Time zone").fill("Europe/London");
  await button("Add the venue").click();
  await see(/An uplink is one way out of the venue/);
  await button("Add an uplink").click();
  await field("Name").fill("Pier line");
  await button("Add the uplink").click();
  await see("Nothing has been measured here yet.");
  const exported = await (await fetch(`${world.running.address}/api/uplinks/chapel-copper/measurements/export?as=json`)).text();
  await button("Import a file").click();
  await chooseFile("chapel-copper-tests.json", exported);
  await button("Take the 30 tests").click();
  await see("Tests (30)");
  const [download] = await Promise.all([page.waitForEvent("download"), button("Export JSON").click()]);
  const again = JSON.parse(readFileSync(await download.path(), "utf8"));
  expect(again.measurements).toEqual(JSON.parse(exported).measurements);

  const rows = Array.from(
    { length: 20_000 },
    (_, i) => `${new Date(Date.parse("2024-01-01T00:00:00Z") + i * 3_600_000).toISOString()},${(10 + (i % 97) / 10).toFixed(1)}`,
  );
  await button("Import a file").click();
  await chooseFile("years.csv", `time,rate_mbps\n${rows.join("\n")}\n`);
  await button("Take the 20000 tests").click({ timeout: 30_000 });
  await see("years.csv: 20000 added.", 60_000);
  await see("Tests (20030)");
  const list = page.getByRole("region", { name: "Tests", exact: true });
  await list.evaluate((box) => {
    box.scrollTop = box.scrollHeight;
  });
  await page.getByRole("button", { name: /^Mon, 1 Jan 24, 00:00/ }).waitFor();
  expect(await list.getByRole("button").count()).toBeLessThan(400);
}, 150_000);
