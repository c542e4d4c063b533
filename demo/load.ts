import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { TZDate } from "@date-fns/tz";
import type { AccountNow } from "@ukaza/contract/deviceCode";
import { readMeasurementEntry } from "@ukaza/contract/survey";
import { measurementsOf } from "@ukaza/core/formats/fileReading";
import { readMeasurements } from "@ukaza/core/formats/measurements";
import { localTime } from "@ukaza/core/survey/localTime";
import { addDays, differenceInCalendarDays } from "date-fns";

const DAY = /^\d{4}-\d{2}-\d{2}/;
const INSTANT = /"(\d{4}-\d{2}-\d{2}T\d{2}:\d{2}:\d{2}(?:\.\d+)?(?:Z|[+-]\d{2}:\d{2}))"/g;

const asDate = (day: string) => new Date(`${day}T00:00:00Z`);

/** Moves every instant of a JSON text by whole days, keeping the time on the venue's clock. */
export function moveInstants(text: string, days: number, timeZone: string): string {
  return text.replace(
    INSTANT,
    (_whole, instant: string) => `"${new Date(addDays(new TZDate(Date.parse(instant), timeZone), days).getTime()).toISOString()}"`,
  );
}

/** Moves the local days at the start of each CSV row. */
export function moveRows(text: string, days: number): string {
  return text
    .split("\n")
    .map((row) => row.replace(DAY, (day) => addDays(asDate(day), days).toISOString().slice(0, 10)))
    .join("\n");
}

/** Lets the server in on a platform as a person would: asks for a code, and approves it on the platform's page. */
export async function connectAccount(base: string, platformId: string): Promise<void> {
  const account = `${base}/api/platforms/${platformId}/account`;
  const asked = (await (await fetch(account, { method: "POST" })).json()) as AccountNow;
  if (asked.state !== "waiting") throw new Error(`${platformId} gave no code`);
  await fetch(asked.page, { method: "POST", body: new URLSearchParams({ code: asked.userCode, decision: "approved" }) });
  for (let tries = 0; tries < 50; tries++) {
    const now = (await (await fetch(account)).json()) as AccountNow;
    if (now.state === "connected") return;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  throw new Error(`${platformId} did not let the server in`);
}

/**
 * Loads the demo through the same doors as anybody's files: JSON by /api/import, CSV by the reader and the batches of an import.
 * The scenario's "today" becomes `now`, so that one event was last night, one is tonight and one is next week.
 */
export async function loadDemo(base: string, now: Date, folder = __dirname): Promise<void> {
  const scenario = JSON.parse(readFileSync(join(folder, "scenario.json"), "utf8")) as { today: string; timeZone: string };
  const days = differenceInCalendarDays(asDate(localTime(now.getTime(), scenario.timeZone).day), asDate(scenario.today));
  const post = async (path: string, type: string, body: string) => {
    const answer = await fetch(`${base}${path}`, { method: "POST", headers: { "content-type": type }, body });
    if (!answer.ok) throw new Error(`${path}: ${answer.status} ${await answer.text()}`);
  };
  const files = (part: string) =>
    readdirSync(join(folder, part))
      .sort()
      .map((name) => ({ name, text: readFileSync(join(folder, part, name), "utf8") }));
  for (const part of ["venues", "platforms", "kit", "records", "events"]) {
    for (const { text } of files(part)) await post("/api/import", "application/json", moveInstants(text, days, scenario.timeZone));
  }
  // The crew sends there every week; the other platforms wait for their first time.
  await connectAccount(base, "oriel-public");
  for (const { name, text } of files("measurements")) {
    const reading = readMeasurements(moveRows(text, days), { timeZone: scenario.timeZone }, readMeasurementEntry);
    const body = JSON.stringify({ measurements: measurementsOf(reading) });
    await post(`/api/uplinks/${name.replace(/\.csv$/, "")}/measurements/batch`, "application/json", body);
  }
  for (const { text } of files("regions")) {
    const { uplinkId, trips } = JSON.parse(moveInstants(text, days, scenario.timeZone)) as { uplinkId: string; trips: unknown[] };
    for (const trip of trips) await post(`/api/uplinks/${uplinkId}/regions`, "application/json", JSON.stringify(trip));
  }
}
