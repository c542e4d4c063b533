import AxeBuilder from "@axe-core/playwright";
import type { EventNow } from "@ukaza/contract/event";
import type { FitNow } from "@ukaza/contract/fitChoice";
import type { RunSheet } from "@ukaza/contract/lineup";
import type { Page } from "playwright-core";
import { bestChoice } from "../core/test/kit";
import { phone, wide } from "./browser";
import { startWorld, type World } from "./world";

const EVENT = "/events/opening-concert";
let world: World;
beforeAll(async () => {
  world = await startWorld(0.05);
});
afterAll(async () => {
  await world.close();
});

/** Screens and what stands on each once it is read. */
const screens: [path: string, shows: string | RegExp][] = [
  ["/", "Opening concert"],
  ["/venues", "Harbour Hall"],
  ["/platforms", "Oriel Public"],
  ["/platforms/halyard-relay", "Versions (1)"],
  ["/platforms/oriel-public/edit", "Try these settings"],
  ["/platforms/new/edit", /Which sheet is it most like/],
  ["/kit", "Is it free?"],
  ["/kit/pocket-encoder", "What it can do"],
  ["/kit/new/edit", "What it is"],
  ["/kit/code", "The code on the encoder's screen"],
  [`${EVENT}/survey`, /72 tests/],
  [`${EVENT}/fit`, /The best use of these lines|The event goes by/],
  [`${EVENT}/rig`, /Go to Fit|Read back|Create the broadcast/],
  [`${EVENT}/lineup`, "Run sheet"],
  [`${EVENT}/air`, /Nothing is sent yet|On air since/],
  [`${EVENT}/wrap`, /Nothing has been public yet|In this order/],
  ["/events/cliff-top-finale/survey", /Worked out from its members/],
  ["/venues/st-orrans-chapel", /Chapel copper/],
  ["/events/choral-evensong/wrap", "Availability"],
  ["/events/choral-evensong/air", "Off the air"],
];

async function faultsOn(page: Page): Promise<string[]> {
  const { violations } = await new AxeBuilder({ page }).withTags(["wcag2a", "wcag2aa", "wcag21aa", "wcag22aa"]).analyze();
  return violations.flatMap((v) => v.nodes.map((n) => `${v.id}: ${n.html.slice(0, 160)}`));
}

/** Controls smaller than a fingertip: they are missed in the dark. */
const smallOn = (page: Page): Promise<string[]> =>
  page.evaluate(() =>
    [...document.querySelectorAll('[role="button"],[role="radio"],[role="checkbox"],input')]
      .filter((e) => (e as HTMLElement).offsetParent && e.getBoundingClientRect().height < 44)
      .map((e) => e.getAttribute("aria-label") ?? e.outerHTML.slice(0, 80)),
  );

describe.each([
  ["phone", phone, "light"],
  ["wide", wide, "dark"],
] as const)("%s", (_name, size, colorScheme) => {
  test.each(screens)("%s stands without sideways scrolling and without faults of accessibility", async (path, shows) => {
    const page = await world.open(path, size, { colorScheme });
    await page.getByText(shows).first().waitFor({ timeout: 20_000 });
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(size.width);
    expect(await faultsOn(page)).toEqual([]);
    expect(await smallOn(page)).toEqual([]);
    await page.context().close();
  });
});

/** Each part of the survey, and each sheet over it: where it is, what opens it, what it is called. */
const sheets: [part: string, opener: string, title: string][] = [
  ["Verdict", "Edit", "Edit Hall fibre"],
  ["Verdict", "Add an uplink", "A new uplink"],
  ["Verdict", "Compare two", "Two uplinks side by side"],
  ["Measure", "Plan tests", "Tests of Hall fibre by plan"],
  ["Carries", "Add a round trip to Halyard Relay", "Round trip to Halyard Relay"],
  ["Tests", "Import a file", "Import into Hall fibre"],
  ["Tests", "Add by hand", "A test by hand"],
];
test.each(sheets)("the survey's part %s and the sheet behind %s have no faults, and Escape closes it", async (part, opener, title) => {
  const page = await world.open(`${EVENT}/survey`);
  await page.getByRole("radio", { name: part, exact: true }).click();
  await page.getByRole("button", { name: opener, exact: true }).first().waitFor();
  expect(await faultsOn(page)).toEqual([]);
  expect(await smallOn(page)).toEqual([]);
  await page.getByRole("button", { name: opener, exact: true }).first().click();
  const dialog = page.getByRole("dialog", { name: title });
  await dialog.waitFor();
  expect(await faultsOn(page)).toEqual([]);
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(phone.width);
  await page.keyboard.press("Escape");
  await dialog.waitFor({ state: "detached" });
  await page.context().close();
});

test("an unknown event and an unknown address say so", async () => {
  const page = await world.open("/events/none/survey");
  await page
    .getByText(/There is no event "none"/)
    .first()
    .waitFor();
  await page.context().close();
});

test("day and night are switched by hand, remembered, and otherwise follow the system", async () => {
  const page = await world.open("/");
  const paper = () => page.evaluate(() => getComputedStyle(document.documentElement).backgroundColor);
  await page.getByText("Opening concert").first().waitFor();
  expect(await paper()).toBe("rgb(247, 244, 236)");
  await page.getByRole("button", { name: "Night colours" }).click();
  expect(await paper()).toBe("rgb(16, 22, 28)");
  await page.reload();
  await page.getByRole("button", { name: "Day colours" }).waitFor();
  expect(await paper()).toBe("rgb(16, 22, 28)");
  await page.context().close();
  const dark = await world.open("/", phone, { colorScheme: "dark" });
  await dark.getByRole("button", { name: "Day colours" }).waitFor();
  await dark.context().close();
});

/** Tab by tab until the control of this name has the focus. */
async function tabTo(page: Page, name: RegExp): Promise<void> {
  for (let i = 0; i < 80; i++) {
    await page.keyboard.press("Tab");
    const focused = await page.evaluate(
      () => document.activeElement?.getAttribute("aria-label") ?? document.activeElement?.textContent ?? "",
    );
    if (name.test(focused)) return;
  }
  throw new Error(`no Tab leads to ${name}`);
}

test("the irreversible steps go with the keyboard alone, and ask twice", async () => {
  const fit = await world.api<FitNow>("GET", `${EVENT}/fit`);
  await world.api("PUT", `${EVENT}/fit`, bestChoice(fit.problem).choice);
  await world.api("POST", `${EVENT}/rig/broadcast`);
  await world.api("POST", `${EVENT}/rig/configure`);
  await world.api("POST", `${EVENT}/lineup/steps/send`, {});

  const page = await world.open(`${EVENT}/lineup`, wide);
  await page.getByRole("button", { name: "I have watched the preview" }).waitFor({ timeout: 30_000 });
  await tabTo(page, /^I have watched the preview/);
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: /^Go public\./ }).waitFor();
  await tabTo(page, /^Go public\./);
  await page.keyboard.press("Enter");
  await page.getByText(/Really: go public\?/).waitFor();
  expect((await world.api<EventNow>("GET", EVENT)).broadcast).toBe("sending");
  await tabTo(page, /^Yes, go public/);
  await page.keyboard.press("Enter");
  await page.getByText(/^Public on Oriel Public/).waitFor();
  expect(await faultsOn(page)).toEqual([]);

  // On air the wide view shows rows, charts and log side by side.
  await tabTo(page, /^Air: /);
  await page.keyboard.press("Enter");
  await page.getByText("All feeds are steady.").waitFor({ timeout: 30_000 });
  for (const text of ["Switch by hand", "Log", "Feeds"]) expect(await page.getByText(text, { exact: true }).first().isVisible()).toBe(true);
  expect(await faultsOn(page)).toEqual([]);
  const first = await page.getByTestId("sent").first().getAttribute("data-at");
  await page.waitForFunction((at) => document.querySelector('[data-testid="sent"]')?.getAttribute("data-at") !== at, first);

  await tabTo(page, /^Wrap: /);
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: /^End the broadcast\./ }).waitFor();
  await tabTo(page, /^End the broadcast\./);
  await page.keyboard.press("Enter");
  await tabTo(page, /^Yes, end the broadcast/);
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: /^Stop the encoder\./ }).waitFor();
  await tabTo(page, /^Stop the encoder\./);
  await page.keyboard.press("Enter");
  await tabTo(page, /^Yes, stop the encoder/);
  await page.keyboard.press("Enter");
  await page.getByText("Done. Everything is off, and the report is below.").waitFor();
  const sheet = await world.api<RunSheet>("GET", `${EVENT}/lineup`);
  expect(sheet.steps.every((s) => s.state === "done")).toBe(true);
  await page.context().close();
  expect(world.complaints).toEqual([]);
}, 120_000);
