import type { SettingsSheet } from "@ukaza/contract/fitChoice";
import type { Settings } from "@ukaza/contract/settings";
import { writeCsv } from "../formats/csv";

const units: Partial<Record<keyof Settings, string>> = {
  width: "px",
  height: "px",
  frameRate: "frames/s",
  videoBps: "bit/s",
  keyframeS: "s",
  audioBps: "bit/s",
  audioHz: "Hz",
};

/** A settings sheet as CSV, one field a row: engine (0: the encoder as a whole), what, value, unit. */
export function settingsCsv(sheet: SettingsSheet): string {
  const rows: (string | number | null)[][] = [
    [0, "event", sheet.event, ""],
    [0, "venue", sheet.venue, ""],
    [0, "plan", sheet.plan, ""],
    [0, "encoder", sheet.encoder, ""],
    [0, "serial number", sheet.serial, ""],
    ...(sheet.recordBps === null ? [] : [[0, "recording", sheet.recordBps, "bit/s"]]),
    ...sheet.engines.flatMap(({ settings, keyframeFrames, feeds }, i) =>
      [
        ...Object.entries(settings).map(([field, value]) => [field, value, units[field as keyof Settings] ?? ""]),
        ["keyframe interval", keyframeFrames, "frames"],
        ...feeds.flatMap((f) => [
          [`${f.platform} ${f.role} uplink`, f.uplink, ""],
          [`${f.platform} ${f.role} load`, f.loadBps, "bit/s"],
          [`${f.platform} ${f.role} address`, f.address, ""],
        ]),
      ].map((row) => [i + 1, ...row]),
    ),
  ];
  return writeCsv(["engine", "what", "value", "unit"], rows);
}
