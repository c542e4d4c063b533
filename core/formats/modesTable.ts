import type { Mode } from "@ukaza/contract/ruleSheet";
import Papa from "papaparse";
import { bitrateUnits, type Column, columnOrder, type ModeRow, readRow } from "./modeRow";

const names: Record<Column, readonly string[]> = {
  size: ["size", "resolution", "picture", "picture size", "format"],
  frameRates: ["frame rate", "frame rates", "framerate", "fps", "frames/s", "rate", "rates"],
  minBps: ["min", "minimum", "minimum bitrate", "min bitrate", "from"],
  recommendedBps: ["recommended", "recommended bitrate", "usual", "target", "bitrate", "video bitrate"],
  maxBps: ["max", "maximum", "maximum bitrate", "max bitrate", "to"],
  codec: ["codec", "video codec"],
  profiles: ["profile", "profiles"],
  maxLevel: ["level", "highest level", "max level"],
};
const byName = new Map(Object.entries(names).flatMap(([column, all]) => all.map((word) => [word, column as Column] as const)));

/**
 * Reads a table of modes as it is copied from a spreadsheet or a help page: tabs, semicolons or commas, with or without
 * a first line that names the columns. Sizes as 1920×1080 or 1080p50; rates as "25/30" or "29.97"; bitrates in the unit
 * that they or the first line name, else kb/s.
 */
export function readModesTable(text: string): ModeRow[] {
  const body = text.replace(/^\uFEFF/, "").replace(/\s+$/, "");
  if (body.trim() === "") return [];
  const delimiter = body.includes("\t") ? "\t" : body.includes(";") ? ";" : ",";
  const { data } = Papa.parse<string[]>(body, { delimiter });
  const titles = (data[0] ?? []).map((title) =>
    title
      .trim()
      .toLowerCase()
      .replace(/\s*[([].*$/, "")
      .replaceAll("_", " "),
  );
  const named = titles.map((title) => byName.get(title));
  const hasTitles = named.filter(Boolean).length >= 2;
  const columns: (Column | undefined)[] = hasTitles ? named : [...columnOrder];
  const factors = (data[0] ?? []).map(
    (title) => (hasTitles ? bitrateUnits[(/[([]([^)\]]+)[)\]]/.exec(title)?.[1] ?? "").trim().toLowerCase()] : undefined) ?? 1e3,
  );
  return data.slice(hasTitles ? 1 : 0).flatMap((cells, i) => {
    if (cells.every((cell) => cell.trim() === "")) return [];
    return [readRow(cells, columns, factors, i + (hasTitles ? 2 : 1))];
  });
}

/** Modes as a table that reads back as the same modes. */
export function writeModesTable(modes: readonly Mode[]): string {
  const title = ["size", "frame rates", "min (bit/s)", "recommended (bit/s)", "max (bit/s)", "codec", "profiles", "level"];
  const rows = modes.map((m) => [
    `${m.width}×${m.height}`,
    m.frameRates.join(" "),
    m.minBps,
    m.recommendedBps ?? "",
    m.maxBps,
    m.codec,
    m.profiles.join(" "),
    m.maxLevel,
  ]);
  return Papa.unparse([title, ...rows], { delimiter: "\t", newline: "\n" });
}
