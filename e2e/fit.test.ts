import type { EventNow } from "@ukaza/contract/event";
import type { FitNow } from "@ukaza/contract/fitChoice";
import { startWorld, type World } from "./world";

let world: World;

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

test("a forecast runs beside the page, is stopped and run again, says what it rests on, and a plan is taken from it", async () => {
  const page = await world.open("/events/opening-concert/fit");
  const see = (text: string | RegExp, timeout = 20_000) => page.getByText(text).first().waitFor({ timeout });
  const button = (name: string | RegExp) => page.getByRole("button", { name }).first();
  await button("Forecast 2,000 shows").click();
  await page.getByRole("progressbar").waitFor();
  const item = page.getByRole("listitem", { name: "Balanced" });
  await item.getByText("Shows without trouble").waitFor();
  // The page answers while the shows run.
  await button("Change the settings by hand").click();
  await page.getByRole("radiogroup", { name: "Frame rate" }).waitFor();
  await button("Stop the forecast").click();
  await see(/Stopped after \d+ shows; the figures are of those\./);
  await see(/Hall fibre: \d+ tests near the show's hours\. Not measured but assumed: 0\.02 outages an hour/);
  await item.getByText(/With the main feed alone: /).waitFor();
  await button("Forecast again").click();
  await page.getByRole("progressbar").waitFor();
  await button("Stop the forecast").click();

  const cautious = page.getByRole("listitem", { name: "Cautious" });
  const words = /at ([\d.]+ Mb\/s), score/.exec((await cautious.textContent()) ?? "");
  await button("Take the cautious plan").click();
  await see(new RegExp(`Your own settings: .* at ${words?.[1]?.replace(".", "\\.")}`));
  await button("Use these settings").click();
  await see(/^Chosen: /);
  const { chosen } = await world.api<FitNow>("GET", "/events/opening-concert/fit");
  expect(`${((chosen?.settings.videoBps ?? 0) / 1e6).toFixed(1)} Mb/s`).toBe(words?.[1]);
  expect((await world.api<EventNow>("GET", "/events/opening-concert")).stages.fit).toBe("done");
});

test("what if: a thinner line moves plan and load lines at once, nothing is chosen from it, and one tap goes back", async () => {
  const page = await world.open("/events/chapel-recital/fit");
  const see = (text: string | RegExp) => page.getByText(text).first().waitFor({ timeout: 20_000 });
  const mbps = async (text: RegExp) =>
    Number(/at ([\d.]+) Mb\/s/.exec((await page.getByText(text).first().textContent({ timeout: 20_000 })) ?? "")?.[1]);
  const measured = await mbps(/The best use of this line: /);
  const slider = page.getByRole("slider", { name: "Every line carries" });
  await slider.focus();
  for (let i = 0; i < 15; i++) await page.keyboard.press("ArrowLeft");
  await see("25 % of it");
  await see(/Nothing is chosen from a supposition\./);
  await page.waitForFunction(
    (before) => Number(/With such lines: .* at ([\d.]+) Mb\/s/.exec(document.body.textContent ?? "")?.[1] ?? before) < before,
    measured,
  );
  expect(await page.getByRole("button", { name: "Use these settings" }).count()).toBe(0);
  await page.getByRole("slider", { name: "Reserve" }).fill("0.7");
  await see("These demands cannot hold together:");
  await page.getByRole("button", { name: "Back to what was measured" }).click();
  await see(/The best use of this line: /);
  await page.getByRole("button", { name: "Use these settings" }).waitFor();
  expect(await mbps(/The best use of this line: /)).toBe(measured);
});
