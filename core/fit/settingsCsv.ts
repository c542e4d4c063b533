import type { SettingsSheet } from "@ukaza/contract/fitChoice";
import { writeCsv } from "../formats/csv";

const units: Partial<Record<keyof SettingsSheet["settings"], string>> = {
  width: "px",
  height: "px",
  frameRate: "frames/s",
  videoBps: "bit/s",
  keyframeS: "s",
  audioBps: "bit/s",
  audioHz: "Hz",
};

/** A settings sheet as CSV, one field a row: what, value, unit. */
export function settingsCsv(sheet: SettingsSheet): string {
  const rows: (string | number | null)[][] = [
    ["event", sheet.event, ""],
    ["venue", sheet.venue, ""],
    ["platform", sheet.platform, ""],
    ["encoder", sheet.encoder, ""],
    ["serial number", sheet.serial, ""],
    ...Object.entries(sheet.settings).map(([field, value]) => [field, value, units[field as keyof SettingsSheet["settings"]] ?? ""]),
    ["keyframe interval", sheet.keyframeFrames, "frames"],
    ...sheet.feeds.flatMap((f) => [
      [`${f.role} uplink`, f.uplink, ""],
      [`${f.role} load`, f.loadBps, "bit/s"],
      [`${f.role} address`, f.address, ""],
    ]),
  ];
  return writeCsv(["what", "value", "unit"], rows);
}
