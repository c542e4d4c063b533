import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { event } from "@ukaza/contract/event";
import { platformFile } from "@ukaza/contract/library";
import type { Settings } from "@ukaza/contract/settings";
import type { LineModel } from "@ukaza/core/survey/lineModel";
import { measurementsCsv } from "./measurements";
import { makeRecord } from "./record";

const demo = join(__dirname, "..");
const read = (path: string): unknown => JSON.parse(readFileSync(join(demo, path), "utf8"));

const allHours = ["08:10", "10:30", "13:00", "18:05", "18:40", "19:10", "19:40", "20:10", "20:40", "21:05", "21:45", "22:20"];

/** Every made file of the demo, by path: the same each time, since the seeds are fixed. */
export function demoFiles(): Record<string, string> {
  const { uplinks } = read("standins/line.json") as { uplinks: Record<string, LineModel> };
  const { today } = read("scenario.json") as { today: string };
  const model = (id: string) => {
    const found = uplinks[id];
    if (!found) throw new Error(`no line model for ${id}`);
    return found;
  };
  const settings: Settings = {
    codec: "h264",
    profile: "high",
    width: 1280,
    height: 720,
    frameRate: "25",
    videoBps: 2_900_000,
    rateControl: "constant",
    keyframeS: 2,
    bFrames: 2,
    audioBps: 128_000,
    audioHz: 48_000,
    audioChannels: 2,
    protocol: "rtmp",
  };
  const record = makeRecord({
    event: event.parse({
      format: "ukaza-event",
      version: 1,
      id: "choral-evensong",
      name: "Choral evensong",
      series: "Skerrow Choral Week",
      venueId: "st-orrans-chapel",
      timeZone: "Europe/London",
      show: { start: "2026-06-09T17:30:00+01:00", end: "2026-06-09T18:10:00+01:00" },
      source: { width: 1920, height: 1080, frameRate: "25", scan: "progressive" },
      content: "stage",
      encoderIds: ["desk-encoder"],
      destinations: [
        { id: "oriel", platformId: "oriel-public", title: "Skerrow Choral Week: choral evensong", access: "public", backup: true },
      ],
      failover: { returnAuto: true },
    }),
    fit: {
      destinationId: "oriel",
      settings,
      savedAt: "2026-06-09T15:40:00.000Z",
      feeds: [
        { role: "main", encoderId: "desk-encoder", uplinkId: "chapel-copper" },
        { role: "backup", encoderId: "desk-encoder", uplinkId: "chapel-hotspot" },
      ],
    },
    sheet: platformFile.parse(read("platforms/oriel-public.json")).sheet,
    models: uplinks,
    seed: 77,
    sendsBeforeS: 420,
    endsAfterS: 2_508,
    trouble: [
      { fromS: 742, untilS: 748, leftBps: 2_000_000 },
      { fromS: 1_115, untilS: 1_190, leftBps: 700_000 },
    ],
  });
  return {
    "measurements/hall-fibre.csv": measurementsCsv(model("hall-fibre"), 101, today, allHours, 6),
    "measurements/hall-hotspot.csv": measurementsCsv(model("hall-hotspot"), 102, today, ["19:20", "20:30", "21:10"], 3),
    "measurements/chapel-copper.csv": measurementsCsv(
      model("chapel-copper"),
      103,
      today,
      ["10:00", "16:40", "17:20", "17:50", "18:20", "18:50"],
      5,
    ),
    "measurements/chapel-hotspot.csv": measurementsCsv(model("chapel-hotspot"), 104, today, ["17:30", "18:10"], 3),
    "measurements/cliff-modem-1.csv": measurementsCsv(model("cliff-modem-1"), 105, today, ["18:40", "19:30", "20:15", "21:00"], 4),
    "measurements/cliff-modem-2.csv": measurementsCsv(model("cliff-modem-2"), 106, today, ["18:45", "19:35", "20:20", "21:05"], 4),
    "measurements/cliff-modem-3.csv": measurementsCsv(model("cliff-modem-3"), 107, today, ["18:50", "19:40", "20:25", "21:10"], 4),
    "records/choral-evensong.json": `${JSON.stringify(record).replaceAll('],["', '],\n["').replaceAll('},{"at"', '},\n{"at"')}\n`,
  };
}

if (require.main === module) {
  for (const [path, text] of Object.entries(demoFiles())) writeFileSync(join(demo, path), text);
}
