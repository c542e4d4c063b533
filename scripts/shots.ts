import { mkdirSync } from "node:fs";
import { join } from "node:path";
import type { FitNow } from "@ukaza/contract/fitChoice";
import { bestChoice } from "../core/test/kit";
import { phone, wide } from "../e2e/browser";
import { startWorld, type World } from "../e2e/world";

const folder = join(__dirname, "..", "docs", "screenshots");
const EVENT = "/events/opening-concert";

interface More {
  size?: typeof phone;
  night?: boolean;
  scrollTo?: string;
  /** A part of the survey, a button in it, a file to choose behind that, and what is waited for then. */
  part?: string;
  press?: string;
  file?: string;
  awaits?: string | RegExp;
}

const LAST_EVENING =
  "When;Upload Mb/s;Ping (ms)\n2026-06-08 19:40;15,2;14\n2026-06-08 20:10;14,9;15\n2026-06-08 20:40;?;15\n2026-06-08 21:10;16,1;14\n";

/** Takes one picture of each main view from the demo's data, for the README. */
async function main(): Promise<void> {
  mkdirSync(folder, { recursive: true });
  const world = await startWorld(0.2);
  const take = (name: string, path: string, shows: string | RegExp, more: More = {}) => picture(world, name, path, shows, more);
  await take("events", "/", "Opening concert");
  await take("survey", `${EVENT}/survey`, /72 tests/);
  await take("survey-wide", `${EVENT}/survey`, /72 tests/, { size: wide });
  await take("survey-carries", `${EVENT}/survey`, /72 tests/, { part: "Carries" });
  await take("survey-measure", `${EVENT}/survey`, /72 tests/, { part: "Measure", press: "Measure now", awaits: /Filling the line, / });
  await take("survey-import", `${EVENT}/survey`, /72 tests/, {
    part: "Tests",
    press: "Import a file",
    file: LAST_EVENING,
    awaits: "left out",
  });
  await take("platforms", "/platforms", "Oriel Public", { part: "Compare" });
  await take("sheet-wide", "/platforms/parishboard/edit", "Try these settings", { size: wide });
  await take("kit", "/kit", "Is it free?");
  await take("venue", "/venues/cliff-stage", /Worked out from its members/);
  await take("fit", `${EVENT}/fit`, "Load line");
  await take("fit-wide", `${EVENT}/fit`, "Load line", { size: wide });
  const { problem } = await world.api<FitNow>("GET", `${EVENT}/fit`);
  await world.api("PUT", `${EVENT}/fit`, bestChoice(problem).choice);
  await world.api("POST", `${EVENT}/rig/broadcast`);
  await world.api("POST", `${EVENT}/rig/configure`);
  await take("rig", `${EVENT}/rig`, /fields are as told/);
  await world.api("POST", `${EVENT}/lineup/steps/send`, {});
  await take("line-up", `${EVENT}/lineup`, /Usually there after 20 s/);
  const ready = await world.open(`${EVENT}/lineup`);
  await ready.getByRole("button", { name: "I have watched the preview" }).click({ timeout: 60_000 });
  await ready.getByRole("button", { name: /^Go public\./ }).waitFor();
  await ready.context().close();
  await world.api("POST", `${EVENT}/lineup/steps/public`, { confirm: "public" });
  await new Promise((resolve) => setTimeout(resolve, 45_000));
  await world.api("POST", `${EVENT}/air/trouble`, { uplinkId: "hall-fibre", change: { kind: "sink", toBps: 3_500_000 } });
  await take("air-strained", `${EVENT}/air`, /The uplink is at fault/, { night: true });
  await world.api("POST", `${EVENT}/air/trouble`, { uplinkId: "hall-fibre", change: { kind: "cut" } });
  await take("air-wide", `${EVENT}/air`, /Switched from main to backup/, { size: wide });
  await take("wrap", "/events/choral-evensong/wrap", "Availability", { scrollTo: "Report" });
  await take("wrap-wide", "/events/choral-evensong/wrap", "Availability", { size: wide });
  await world.close();
}

async function picture(world: World, name: string, path: string, shows: string | RegExp, more: More): Promise<void> {
  const page = await world.open(path, more.size ?? phone, { colorScheme: more.night ? "dark" : "light" });
  await page.getByText(shows).first().waitFor({ timeout: 60_000 });
  if (more.part) await page.getByRole("radio", { name: more.part, exact: true }).click();
  if (more.press) await page.getByRole("button", { name: more.press }).click();
  if (more.file) {
    const [chooser] = await Promise.all([page.waitForEvent("filechooser"), page.getByRole("button", { name: "Choose a file" }).click()]);
    await chooser.setFiles({ name: "monday-evening.csv", mimeType: "text/csv", buffer: Buffer.from(more.file) });
  }
  if (more.awaits) await page.getByText(more.awaits).first().waitFor({ timeout: 30_000 });
  // Charts draw once they know their width.
  await page.waitForTimeout(1_200);
  if (more.scrollTo)
    await page
      .getByText(more.scrollTo, { exact: true })
      .first()
      .evaluate((e) => e.scrollIntoView());
  await page.screenshot({ path: join(folder, `${name}.png`) });
  await page.context().close();
}

void main();
