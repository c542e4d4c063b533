import type { MeasurementInput } from "@ukaza/contract/survey";
import type { NumberStyle } from "./numbers";
import type { DateOrder } from "./when";

/** What a file leaves open and a person knows. */
export interface ReadingAnswers {
  timeZone: string;
  dateOrder?: DateOrder | undefined;
  decimal?: NumberStyle | undefined;
  rateUnit?: RateUnit | undefined;
  /** At which end of the line the program ran that wrote the file; it matters for a test in reverse. */
  clientAt?: "venue" | "far end" | undefined;
}

export const rateUnits = { "bit/s": 1, "kb/s": 1e3, "Mb/s": 1e6, "Gb/s": 1e9 } as const;
export type RateUnit = keyof typeof rateUnits;

/** Asked before the file can be read: two answers are possible and nothing in the file decides. */
export interface ReadingQuestion {
  ask: "dateOrder" | "decimal" | "rateUnit" | "clientAt";
  /** The place in the file that raises it, as written there. */
  example: string;
}

/** One row of a file: a measurement, perhaps with a remark, or what is wrong with it. */
export type RowReading =
  | { line: number; measurement: MeasurementInput; remark: string | null }
  | { line: number; measurement: null; faults: { column: string | null; message: string }[] };

export interface FileReading {
  kind: "csv" | "iperf3" | "measurements";
  /** What is wrong with the file as a whole; then there are no rows. */
  faults: { column: string | null; message: string }[];
  questions: ReadingQuestion[];
  rows: RowReading[];
  /** Columns that nothing was made of. */
  ignored: string[];
}

/** Reads one entry of our own JSON by the contract's schema, which the core does not know. */
export type EntryReader = (entry: unknown) => { measurement: MeasurementInput } | { faults: { column: string | null; message: string }[] };

/** More rows than this are no survey any more. */
export const MOST_ROWS = 500_000;
/** 20 MB of text. */
export const MOST_CHARACTERS = 20_000_000;

export function wholeFault(kind: FileReading["kind"], message: string, column: string | null = null): FileReading {
  return { kind, faults: [{ column, message }], questions: [], rows: [], ignored: [] };
}

/** The measurements of a file without its wrong rows. */
export const measurementsOf = (reading: FileReading): MeasurementInput[] =>
  reading.rows.flatMap((row) => (row.measurement === null ? [] : [row.measurement]));

/** Every fault of a file with its line, the whole file's first. */
export const faultsIn = (reading: FileReading): { line: number | null; column: string | null; message: string }[] => [
  ...reading.faults.map((fault) => ({ line: null, ...fault })),
  ...reading.rows.flatMap((row) => (row.measurement === null ? row.faults.map((fault) => ({ line: row.line, ...fault })) : [])),
];
