import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { importFile } from "@ukaza/contract/library";
import { faultsIn, measurementsOf } from "@ukaza/core/formats/fileReading";
import { readMeasurementsCsv } from "@ukaza/core/formats/measurementsCsv";
import { openapiFiles } from "../../scripts/openapi";
import { schemaFiles } from "../../scripts/schemas";
import { moveInstants, moveRows } from "../load";
import { demoFiles } from "../make/main";

const demo = join(__dirname, "..");

test("the made files are what their seeds make", () => {
  for (const [path, text] of Object.entries(demoFiles()))
    expect(readFileSync(join(demo, path), "utf8") === text ? path : `${path} differs`).toBe(path);
});

test("every demo document passes the schema that a user's file must pass", () => {
  for (const part of ["venues", "platforms", "kit", "records", "events"]) {
    for (const name of readdirSync(join(demo, part))) {
      const parsed = importFile.safeParse(JSON.parse(readFileSync(join(demo, part, name), "utf8")));
      expect(parsed.error?.issues ?? []).toEqual([]);
    }
  }
});

test("the hall's record has at least 40 tests over six days, with the evening sag", () => {
  const reading = readMeasurementsCsv(readFileSync(join(demo, "measurements/hall-fibre.csv"), "utf8"), { timeZone: "Europe/London" });
  expect(faultsIn(reading)).toEqual([]);
  const measurements = measurementsOf(reading);
  expect(measurements.length).toBeGreaterThanOrEqual(40);
  expect(new Set(measurements.map((m) => m.takenAt.slice(0, 10))).size).toBe(6);
  const mean = (from: number, to: number) => {
    const rates = measurements
      .filter((m) => Number(m.takenAt.slice(11, 13)) >= from && Number(m.takenAt.slice(11, 13)) < to)
      .map((m) => m.rateBps);
    return rates.reduce((a, b) => a + b, 0) / rates.length;
  };
  expect(mean(19, 21)).toBeLessThan(0.6 * mean(6, 13));
});

test("days move, the clock on the venue's wall stays, also over the change of autumn", () => {
  expect(moveInstants('{"start":"2026-06-10T19:30:00+01:00"}', 166, "Europe/London")).toBe('{"start":"2026-11-23T19:30:00.000Z"}');
  expect(moveRows("time,rate_mbps\n2026-06-10 19:30,12\n", 1)).toBe("time,rate_mbps\n2026-06-11 19:30,12\n");
});

test("the stand-ins' descriptions and the published schemas are those of the contract", () => {
  for (const [path, text] of Object.entries({ ...openapiFiles(), ...schemaFiles() }))
    expect(readFileSync(join(demo, "..", path), "utf8") === text ? path : `${path} differs`).toBe(path);
});
