import type { Mode } from "@ukaza/contract/ruleSheet";
import { exactRate, shortRate } from "../media/frameRate";
import { readNumber, styleOf } from "./numbers";

/** Columns in the order in which a table without a first line is read. */
export const columnOrder = ["size", "frameRates", "minBps", "recommendedBps", "maxBps", "codec", "profiles", "maxLevel"] as const;
export type Column = (typeof columnOrder)[number];

/** Bit/s in each unit that a table may name. */
export const bitrateUnits: Record<string, number> = {
  "bit/s": 1,
  bps: 1,
  "kb/s": 1e3,
  kbps: 1e3,
  "kbit/s": 1e3,
  "mb/s": 1e6,
  mbps: 1e6,
  "mbit/s": 1e6,
};
/** Sizes that people write by their lines; 16:9. */
const byLines: Record<string, [number, number]> = {
  "2160": [3840, 2160],
  "1440": [2560, 1440],
  "1080": [1920, 1080],
  "720": [1280, 720],
  "540": [960, 540],
  "480": [854, 480],
  "360": [640, 360],
};
const codecs: Record<string, Mode["codec"]> = { h264: "h264", avc: "h264", h265: "h265", hevc: "h265", av1: "av1" };
const codecName: Record<Mode["codec"], string> = { h264: "H.264", h265: "H.265", av1: "AV1" };
/** What is meant where a table does not say. */
const usual = { codec: "h264", profiles: ["high", "main"], maxLevel: "4.2" } as const satisfies Partial<Mode>;

export type ModeRow = { line: number; mode: Mode; faults: [] } | { line: number; mode: null; faults: string[] };

/** A row of text cells in the order in which an editor shows them; bitrates in kb/s where no unit stands beside them. */
export type ModeCells = Record<Column, string>;

/** Reads one row of an editor's table. */
export function readModeCells(cells: ModeCells, line: number): ModeRow {
  return readRow(
    columnOrder.map((column) => cells[column]),
    [...columnOrder],
    columnOrder.map(() => 1e3),
    line,
  );
}

/** A mode as an editor shows it, bitrates in kb/s. */
export function modeCells(m: Mode): ModeCells {
  const kbps = (bitrate: number | undefined) => (bitrate === undefined ? "" : String(bitrate / 1e3));
  return {
    size: `${m.width}×${m.height}`,
    frameRates: m.frameRates.map(shortRate).join(" "),
    minBps: kbps(m.minBps),
    recommendedBps: kbps(m.recommendedBps),
    maxBps: kbps(m.maxBps),
    codec: codecName[m.codec],
    profiles: m.profiles.join(" "),
    maxLevel: m.maxLevel,
  };
}

export function readRow(cells: string[], columns: (Column | undefined)[], factors: number[], line: number): ModeRow {
  const faults: string[] = [];
  const cell = (column: Column) => (cells[columns.indexOf(column)] ?? "").trim();
  const bitrate = (column: Column): number | undefined => {
    const text = cell(column);
    if (text === "") return undefined;
    const unit = /[a-z/]+$/i.exec(text)?.[0].toLowerCase() ?? "";
    const number = text.slice(0, text.length - unit.length).trim();
    const style = styleOf(number);
    const value =
      readNumber(number, style === "comma" ? "comma" : "point") *
      (unit === "" ? (factors[columns.indexOf(column)] ?? 1e3) : (bitrateUnits[unit] ?? Number.NaN));
    if (Number.isFinite(value) && value > 0 && value <= 1e10) return Math.round(value);
    faults.push(`"${text}" is not a bitrate; write 5800 for kb/s, or 5.8 Mb/s`);
    return undefined;
  };
  const { size, rates } = readSize(cell("size"));
  if (!size) faults.push(`"${cell("size")}" is not a size; write 1920×1080`);
  // A decimal comma is none between two rates: 29,97 is one of them.
  const rateText = cell("frameRates").replace(/\b(23|29|59),(9\d{1,2})\b/g, "$1.$2");
  const written = rateText === "" ? rates : rateText.split(/[\s,;/|]+(?!1001\b)/).filter(Boolean);
  const frameRates = written.map(exactRate);
  if (frameRates.length === 0) faults.push("there is no frame rate");
  const odd = frameRates.find((rate) => !/^[1-9]\d{0,2}(\/1001)?$|^[1-9]\d{0,5}\/1001$/.test(rate));
  if (odd) faults.push(`"${odd}" is not a frame rate; write 25, 50 or 29.97`);
  const [minBps, recommendedBps, maxBps] = [bitrate("minBps"), bitrate("recommendedBps"), bitrate("maxBps")];
  const top = maxBps ?? recommendedBps;
  if (top === undefined && faults.length === 0) faults.push("there is neither a recommended nor a maximum bitrate");
  const codecText = cell("codec").toLowerCase().replace(/[.\s]/g, "");
  const codec = codecText === "" ? usual.codec : codecs[codecText];
  if (!codec) faults.push(`"${cell("codec")}" is not a codec that is known here; write H.264, H.265 or AV1`);
  const profiles =
    cell("profiles") === ""
      ? [...usual.profiles]
      : cell("profiles")
          .toLowerCase()
          .split(/[\s,;/|]+/);
  if (profiles.some((p) => !["baseline", "main", "high", "main10"].includes(p)))
    faults.push(`"${cell("profiles")}" is no list of profiles; write high, main`);
  const maxLevel = cell("maxLevel") === "" ? usual.maxLevel : cell("maxLevel").replace(",", ".");
  if (!/^\d(\.\d)?$/.test(maxLevel)) faults.push(`"${maxLevel}" is not a level; write 4.1`);
  const least = minBps ?? Math.min(recommendedBps ?? top ?? 0, top ?? 0);
  if (top !== undefined && (least > top || (recommendedBps !== undefined && (recommendedBps < least || recommendedBps > top))))
    faults.push("minimum, recommended and maximum are not in this order");
  if (faults.length > 0 || !size || !codec || top === undefined) return { line, mode: null, faults };
  const mode: Mode = {
    width: size[0],
    height: size[1],
    frameRates: [...new Set(frameRates)],
    codec,
    profiles: profiles as Mode["profiles"],
    maxLevel,
    minBps: least,
    ...(recommendedBps === undefined ? {} : { recommendedBps }),
    maxBps: top,
  };
  return { line, mode, faults: [] };
}

/** "1920×1080", "1920 x 1080", "1080p50" or "720": pixels, and the rate if it stands there too. */
function readSize(text: string): { size: [number, number] | null; rates: string[] } {
  const pair = /^(\d{2,5})\s*[x×*]\s*(\d{2,5})$/i.exec(text);
  if (pair) {
    const size: [number, number] = [Number(pair[1]), Number(pair[2])];
    return { size: size.every((side) => side >= 16 && side <= 16_384) ? size : null, rates: [] };
  }
  const lines = /^(\d{3,4})\s*p?\s*(\d{2}(?:[.,]\d{1,3})?)?$/i.exec(text);
  return { size: byLines[lines?.[1] ?? ""] ?? null, rates: lines?.[2] ? [lines[2]] : [] };
}
