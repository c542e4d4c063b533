import { readFileSync } from "node:fs";
import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import type { EventNow } from "@ukaza/contract/event";
import type { KitItem } from "@ukaza/contract/kit";
import type { ListedSheet } from "@ukaza/contract/library";
import type { Page } from "playwright-core";
import { wide } from "./browser";
import { holdButton, startWorld, type World } from "./world";

let world: World;
let page: Page;

beforeAll(async () => {
  world = await startWorld(0.2);
});
afterAll(async () => {
  await world.close();
});
afterEach(async () => {
  for (const context of world.browser.contexts()) await context.close();
  expect(world.complaints).toEqual([]);
});

const button = (name: string | RegExp) => page.getByRole("button", { name, ...(typeof name === "string" ? { exact: true } : {}) }).first();
const field = (name: string) => page.getByRole("textbox", { name, exact: true }).first();
const see = (text: string | RegExp, timeout = 20_000) => page.getByText(text).first().waitFor({ timeout });
const pick = (name: string) => page.getByRole("radio", { name, exact: true }).first().click();

test("a sheet is written on a laptop from a copy: a pasted table, a fault, a trial with its mend, two versions", async () => {
  page = await world.open("/platforms", wide);
  await button("Write a sheet").click();
  await pick("Parishboard");
  await field("Name of the platform").fill("Quay Vision");
  await field("Where it is written").fill("Quay Vision help, live sending");
  await field("Checked by").fill("Ana");
  await button("Paste a table").click();
  await page
    .getByRole("textbox", { name: "Table of modes" })
    .fill(
      "Resolution\tfps\tMin (kbps)\tRecommended (kbps)\tMax (kbps)\n1080p\t25/30\t2000\t4500\t6000\n720p\t25/30\t1000\t2500\t4000\nbig\t25\t1\t2\t3",
    );
  await see("2 modes read, 1 rows not.");
  await see('Line 4: "big" is not a size; write 1920×1080.');
  await button("Put them in place of the table").click();
  const bench = page.getByTestId("bench");
  await bench.getByRole("textbox", { name: "Video, kb/s" }).fill("9000");
  await bench.getByText(/9\.0 Mb\/s is over the platform's maximum of 6\.0 Mb\/s/).waitFor();
  await bench.getByRole("button", { name: "Set video bitrate 6.0 Mb/s" }).click();
  await bench.getByText(/above the recommended 4\.5 Mb\/s/).waitFor();
  await bench.getByRole("button", { name: "Set video bitrate 4.5 Mb/s" }).click();
  await bench.getByText("Nothing speaks against these settings").waitFor();
  await bench.getByRole("radio", { name: "Six-way receiver" }).click();
  await bench.getByText(/The encoder does not send RTMPS/).waitFor();

  await button("Picture and sound").click();
  await field("Audio, most, kb/s").fill("as loud as you like");
  await see("Give a number.");
  await button("Save the sheet").click();
  await see(/One field keeps this from being a sheet/);
  await field("Audio, most, kb/s").fill("192");
  await button("Save the sheet").click();
  await see("Versions (1)");
  await see("2.0 Mb/s to 6.0 Mb/s, recommended 4.5 Mb/s");
  const made = await world.api<ListedSheet>("GET", "/platforms/quay-vision");
  expect(made.sheet).toMatchObject({ revision: 1, audio: { maxBps: 192_000 }, source: { checkedBy: "Ana" } });

  await button("Edit").click();
  await field("Max kb/s, row 1").fill("6500");
  await see("6.0 Mb/s → 6.5 Mb/s");
  await button("Save as version 2").click();
  await see("Versions (2)");
  await button("Show the changes of version 2").click();
  await see("Mode 1920×1080 h264 25, 30, maximum");
  await button("Edit from version 1").click();
  await page.getByRole("textbox", { name: "Max kb/s, row 1" }).waitFor();
  expect(await field("Max kb/s, row 1").inputValue()).toBe("6000");
  await button("Save as version 3").click();
  await see("Versions (3)");
}, 90_000);

test("a sheet from outside is seen before it is taken, by file and by link; the event says what changed", async () => {
  const file = await (await fetch(`${world.running.address}/api/platforms/parishboard/export`)).json();
  const changed = JSON.stringify({ ...file, sheet: { ...file.sheet, keyLife: "lasting" } });
  page = await world.open("/platforms");
  await button("Import").click();
  const choose = async (text: string) => {
    const [chooser] = await Promise.all([page.waitForEvent("filechooser"), button("Choose a file").click()]);
    await chooser.setFiles({ name: "parishboard.json", mimeType: "application/json", buffer: Buffer.from(text) });
  };
  await choose(changed.slice(0, 900));
  await see(/The file is not whole JSON/);
  await choose(JSON.stringify({ ...file, version: 9 }));
  await see(/this program reads version 1 of this format/);
  await choose(changed);
  await see("It differs from the rule sheet here in one place.");
  await see("dies-on-stop → lasting");
  await button("Take it as version 2").click();
  await see("Versions (2)");

  page = await world.open("/events/chapel-recital/fit");
  await see("The rule sheet of Parishboard is newer than the one this event was planned with.");
  await button("What changed").click();
  await see("dies-on-stop → lasting");
  await button("Plan with version 2").click();
  await page.getByText(/is newer than the one this event/).waitFor({ state: "detached" });

  const server = createServer((_request, response) => void response.end(changed));
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  page = await world.open("/platforms");
  await button("Import").click();
  await field("Or a link to a file").fill(`http://127.0.0.1:${(server.address() as AddressInfo).port}/parishboard.json`);
  await button("Read the link").click();
  await see(/word for word/);
  server.close();
}, 60_000);

test("an encoder is added by its address and asked what it can do; it is changed, copied and exported", async () => {
  page = await world.open("/kit");
  await button("Add an encoder").click();
  await button("Add the encoder").click();
  await see("Give it a name.");
  await field("Name").fill("Second desk");
  await button("How it is reached").click();
  await pick("By its address");
  await field("Address").fill("http://127.0.0.1:9");
  await button("Ask the encoder what it can do").click();
  await see(/No answer from the device/);
  await field("Address").fill(world.running.standinAddress("desk-encoder"));
  await button("Ask the encoder what it can do").click();
  await see("It says it is Desk encoder");
  await see("1 → 3");
  await button(/^Show all \d+ changes$/).click();
  await see("124 million → 250 million");
  await button("Take what it says").click();
  await button("Add the encoder").click();
  await see("What it can do", 30_000);
  await see("250 million pixels a second");
  const kit = await world.api<KitItem[]>("GET", "/kit");
  expect(kit.find((k) => k.encoder.id === "second-desk")?.encoder).toMatchObject({
    name: "Second desk",
    engines: 3,
    reach: { driver: "http", address: world.running.standinAddress("desk-encoder") },
  });
  const [download] = await Promise.all([page.waitForEvent("download"), button("Export").click()]);
  expect(download.suggestedFilename()).toBe("second-desk.json");
  await button("Edit").click();
  await field("Engines, encodes at once").fill("2");
  await see("3 → 2");
  await button("Save the encoder").click();
  await see("What it can do");
  await button("Remove this encoder").click();
  await button("Yes, remove it").click();
  await see("Is it free?");
  await page.getByRole("link", { name: /^Second desk/ }).waitFor({ state: "detached" });
}, 60_000);

test("one encoder, two events in the same hours: refused, taken despite it, said, and brought back", async () => {
  page = await world.open("/kit");
  await see("Is it free?");
  await pick("Chapel recital");
  await see(/Opening concert at Harbour Hall/);
  await page.getByRole("link", { name: /^Desk encoder/ }).click();
  await field("Your name, for the log").fill("Ana");
  await pick("Chapel recital");
  await button("Check out").click();
  await see(
    "Desk encoder is planned for Opening concert at Harbour Hall in the same hours. Take another encoder, or take it along despite that.",
  );
  await button("Take it along despite that").click();
  await see("Double booked");
  await see(/^Wanted twice on .*: Opening concert and Chapel recital\.$/);
  await page.getByRole("link", { name: "Kit", exact: true }).click();
  await see(/Out for Chapel recital, Ana\./);
  await page.goto(`${world.running.address}/events/opening-concert/survey`);
  await see(/^Desk encoder is double booked\. Wanted twice/);
  await page.goto(`${world.running.address}/kit/desk-encoder`);
  await field("Your name, for the log").fill("Bo");
  await button("Check in from Chapel recital").click();
  await page.getByText("Double booked").waitFor({ state: "detached" });
}, 60_000);

test("an account and an encoder are let in by a code; the recital's encoder fetches what it is to hold", async () => {
  page = await world.open("/events/chapel-recital/fit");
  await button("Use this plan").click();
  await button("Settings sheets of the encoders").click();
  await see("Pocket encoder, PK-0052");
  const [saved] = await Promise.all([page.waitForEvent("download"), button("Save CSV").click()]);
  expect(readFileSync(await saved.path(), "utf8")).toContain("keyframe interval,50,frames");
  await page.emulateMedia({ media: "print" });
  expect(await button("Print").isVisible()).toBe(false);
  await page.emulateMedia({ media: "screen" });
  await page.getByRole("link", { name: "← Fit" }).click();
  await button(/^Go to Rig/).click();
  await see(/Parishboard has not let Ukaza in yet/);
  await button("Connect Parishboard").click();
  const code = (await page.getByLabel(/^Code /).textContent()) ?? "";
  const platform = await page.context().newPage();
  await platform.goto(`${world.running.standinAddress("parishboard")}/approve`);
  await platform.getByLabel("The code that the program shows").fill(code);
  await platform.getByRole("button", { name: "Let it in" }).click();
  await platform.getByText("It has been let in.").waitFor();
  await button("Create the broadcast").click();
  await see("Name of the sender");
  await button("Approve a code").click();

  const device = await page.context().newPage();
  await device.goto(world.running.standinAddress("pocket-encoder"));
  await device.getByLabel("Address of the program that sets it").fill(world.running.address);
  await device.getByRole("button", { name: "Ask for a code" }).click();
  const shown = (await device.locator("#code").textContent()) ?? "";
  await field("Code").fill(shown.toLowerCase());
  await button("Look who asks").click();
  await see(/Pocket encoder, PK-0052, asks to be set from here/);
  await button("Let it in").click();
  await see("Pocket encoder may now fetch what it is to hold.");

  page = await world.open("/events/chapel-recital/rig");
  // The encoder asks every two seconds whether it has been let in.
  await button("Configure the encoder").click({ timeout: 20_000 });
  await see(/All \d+ fields are as told/, 20_000);
  await device.reload();
  await device.getByText(/Holds: 1280×720 at 25 frames\/s/).waitFor();
  expect(await device.content()).toContain("rtmps://");
}, 90_000);

test("any server: what was copied wrongly is told, what is right is kept hidden, and a person takes its steps to public", async () => {
  const { event } = await world.api<EventNow>("GET", "/events/opening-concert");
  const [destination] = event.destinations;
  await world.api("POST", "/import", {
    ...event,
    id: "own-server",
    name: "Own server",
    destinations: [{ ...destination, platformId: "any-server", backup: false }],
  });
  page = await world.open("/events/own-server/fit");
  await button("Use this plan").click();
  await button(/^Go to Rig/).click();
  await field("Address").fill("abcd-efgh-ijkl");
  await page.getByLabel("Stream key").fill("rtmp://127.0.0.1:9/live");
  await button("Keep them").click();
  await see(/The address looks like a stream key\. Address and key may be swapped/);
  await field("Address").fill("rtmp://127.0.0.1:9/live");
  await page.getByLabel("Stream key").fill("abcd-efgh-ijkl-mnop");
  await button("Keep them").click();
  await see("••••••••mnop");
  await button("Configure the encoder").click();
  await see(/All \d+ fields are as told/);
  await button("Go to Line-up").click();
  await button("Start sending").click();
  await button("Its page shows that it receives").click();
  await button("Its page finds the stream good").click();
  await see("Viewers see it from this moment.");
  await holdButton(page, /^Go public\./);
  await see("Public on Any server. Watch it on Air.");
}, 60_000);
