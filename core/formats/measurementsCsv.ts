import type { FileFault, MeasurementInput } from "@ukaza/contract/survey";
import Papa from "papaparse";
import { readTime } from "./when";

export type FileReading = { ok: true; measurements: MeasurementInput[] } | { ok: false; faults: FileFault[] };

const columns = ["time", "rate_mbps", "rtt_ms", "jitter_ms", "loss_pct"] as const;
type Column = (typeof columns)[number];

/** Greatest value that can be meant, per column, in the column's unit. */
const most: Record<Exclude<Column, "time">, number> = { rate_mbps: 10_000, rtt_ms: 60_000, jitter_ms: 60_000, loss_pct: 100 };

/** More faults than this help nobody. */
const FAULTS_SHOWN = 20;

/**
 * Reads measurements from CSV (RFC 4180) with the header `time,rate_mbps` and, if wished, `rtt_ms,jitter_ms,loss_pct`.
 * Rates in Mb/s at the IP layer; times without an offset are read on the clock of `timeZone`.
 * One fault anywhere and nothing is taken; every fault names its line.
 */
export function readMeasurementsCsv(text: string, timeZone: string): FileReading {
  const fault = (line: number | null, column: string | null, message: string): FileFault => ({ line, column, message });
  const parsed = Papa.parse<string[]>(text.replace(/^\uFEFF/, ""), { skipEmptyLines: false, delimiter: "," });
  const [header, ...rows] = parsed.data;
  const names = (header ?? []).map((name) => name.trim().toLowerCase());
  const headerFaults: FileFault[] = [];
  for (const needed of ["time", "rate_mbps"]) {
    if (!names.includes(needed))
      headerFaults.push(fault(1, needed, `the first line must name the column ${needed}; it reads "${names.join(",").slice(0, 80)}"`));
  }
  names.forEach((name, i) => {
    if (!columns.includes(name as Column))
      headerFaults.push(fault(1, name, `"${name.slice(0, 40)}" is not a known column; use ${columns.join(", ")}`));
    else if (names.indexOf(name) !== i) headerFaults.push(fault(1, name, `the column ${name} stands twice`));
  });
  if (headerFaults.length > 0) return { ok: false, faults: headerFaults.slice(0, FAULTS_SHOWN) };

  const faults: FileFault[] = [];
  const measurements: MeasurementInput[] = [];
  rows.forEach((cells, index) => {
    const line = index + 2;
    if (cells.every((cell) => cell.trim() === "")) return;
    if (cells.length !== names.length) {
      faults.push(fault(line, null, `${cells.length} values where the first line names ${names.length} columns`));
      return;
    }
    const cell = (name: Column) => (cells[names.indexOf(name)] ?? "").trim();
    const takenAtMs = readTime(cell("time"), timeZone);
    if (takenAtMs === null)
      faults.push(
        fault(
          line,
          "time",
          `"${cell("time").slice(0, 40)}" is not a time; write 2026-06-10 19:30 or with an offset 2026-06-10T19:30:00+01:00`,
        ),
      );
    const number = (name: Exclude<Column, "time">): number | undefined => {
      if (!names.includes(name) || (cell(name) === "" && name !== "rate_mbps")) return undefined;
      const value = cell(name) === "" ? Number.NaN : Number(cell(name));
      if (!Number.isFinite(value) || value < 0 || value > most[name]) {
        const comma = /^\d+,\d+$/.test(cell(name)) ? "; write the decimal with a point" : "";
        faults.push(fault(line, name, `"${cell(name).slice(0, 40)}" is not a number from 0 to ${most[name]}${comma}`));
        return undefined;
      }
      return value;
    };
    const rate = number("rate_mbps");
    if (rate !== undefined && rate * 1e6 < 1) faults.push(fault(line, "rate_mbps", "a rate of 0 is no measurement; leave the line out"));
    const [rttMs, jitterMs, lossPct] = [number("rtt_ms"), number("jitter_ms"), number("loss_pct")];
    measurements.push({
      takenAt: new Date(takenAtMs ?? 0).toISOString(),
      durationS: 10,
      rateBps: Math.round((rate ?? 0) * 1e6),
      layer: "ip",
      floor: false,
      source: "csv",
      ...(rttMs === undefined ? {} : { rttMs }),
      ...(jitterMs === undefined ? {} : { jitterMs }),
      ...(lossPct === undefined ? {} : { lossRatio: lossPct / 100 }),
    });
  });
  if (faults.length > 0) return { ok: false, faults: faults.slice(0, FAULTS_SHOWN) };
  if (measurements.length === 0) return { ok: false, faults: [fault(2, null, "there is no measurement below the first line")] };
  return { ok: true, measurements };
}
