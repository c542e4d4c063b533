import type { MeasurementInput } from "@ukaza/contract/survey";
import Papa from "papaparse";
import {
  type FileReading,
  MOST_ROWS,
  type ReadingAnswers,
  type ReadingQuestion,
  type RowReading,
  rateUnits,
  wholeFault,
} from "./fileReading";
import { type Column, type ColumnName, columnOf } from "./headers";
import { type NumberStyle, readNumber, styleOf } from "./numbers";
import { type DateOrder, openOrder, readMoment } from "./when";

const delimiters = [",", ";", "\t", "|"];
const numeric: readonly ColumnName[] = ["rate", "rtt", "jitter", "loss", "duration"];
/** Greatest value that can be meant, in bit/s, ms, a ratio and seconds. */
const most: Partial<Record<ColumnName, number>> = { rate: 1e10, rtt: 60_000, jitter: 60_000, loss: 1, duration: 86_400 };

const layers = ["ip", "tcp", "udp"] as const satisfies readonly MeasurementInput["layer"][];
const sources = [
  "by hand",
  "csv",
  "iperf3",
  "built-in test",
  "test of the stand-in line",
] as const satisfies readonly MeasurementInput["source"][];

const short = (text: string) => (text.length > 40 ? `${text.slice(0, 40)}…` : text);

interface Table {
  delimiter: string;
  columns: (Column | null)[];
  rows: string[][];
  column: (name: ColumnName) => Column | undefined;
  cell: (cells: string[], name: ColumnName) => string;
}

/**
 * Reads measurements from delimited text (RFC 4180, also with semicolons, tabs or bars): a first line naming the
 * columns in any usual way, a time or a date and a time, a rate with its unit. Every row is judged on its own. What the
 * file leaves open (day or month first, decimal comma or thousands, the rate's unit) is asked, never guessed.
 */
export function readMeasurementsCsv(text: string, answers: ReadingAnswers): FileReading {
  const body = text.replace(/^\uFEFF/, "");
  const delimiter = delimiterOf(body);
  const { data } = Papa.parse<string[]>(body, { delimiter, skipEmptyLines: false });
  const [titles = [], ...rows] = data;
  const columns = titles.map((title) => columnOf(title));
  const has = (name: ColumnName) => columns.some((column) => column?.name === name);
  const named = titles.map((title) => title.trim()).join(", ");
  if (!has("time") && !has("date"))
    return wholeFault("csv", `the first line names no column for the time; it reads "${named.slice(0, 80)}"`, "time");
  if (!has("rate"))
    return wholeFault("csv", `the first line names no column for the upload rate; it reads "${named.slice(0, 80)}"`, "rate");
  const twice = columns.find((column, i) => column && columns.findIndex((other) => other?.name === column.name) !== i);
  if (twice) return wholeFault("csv", `two columns give the ${twice.name}; leave one of them out`, twice.title);
  if (rows.length > MOST_ROWS) return wholeFault("csv", `the file has ${rows.length} lines; at most ${MOST_ROWS} are read at a time`);
  const places = new Map(columns.flatMap((column, i) => (column ? [[column.name, i] as const] : [])));
  const table: Table = {
    delimiter,
    columns,
    rows,
    column: (name) => columns[places.get(name) ?? -1] ?? undefined,
    cell: (cells, name) => (cells[places.get(name) ?? -1] ?? "").trim(),
  };
  const settled = settle(table, answers);
  const ignored = titles.filter((title, i) => columns[i] === null && title.trim() !== "");
  if (settled.questions.length > 0) return { kind: "csv", faults: [], questions: settled.questions, rows: [], ignored };
  const read = rows.flatMap((cells, i) =>
    cells.every((value) => value.trim() === "") ? [] : [readRow(table, cells, i + 2, settled, answers.timeZone)],
  );
  if (read.length === 0) return wholeFault("csv", "there is no measurement below the first line");
  return { kind: "csv", faults: [], questions: [], rows: read, ignored };
}

/** The delimiter whose parts of the first line are known columns most often. */
function delimiterOf(text: string): string {
  const end = text.search(/[\r\n]/);
  const line = end < 0 ? text : text.slice(0, end);
  const known = (delimiter: string) => line.split(delimiter).filter((part) => columnOf(part.replaceAll('"', "")) !== null).length;
  return delimiters.reduce((best, next) => (known(next) > known(best) ? next : best));
}

interface Settled {
  questions: ReadingQuestion[];
  order: DateOrder | undefined;
  style: NumberStyle;
  rateFactor: number;
}

const whenOf = ({ cell }: Table, cells: string[]) => `${cell(cells, "date")} ${cell(cells, "time")}`.trim();

/** What the file as a whole decides, and what it leaves open. */
function settle(table: Table, answers: ReadingAnswers): Settled {
  const questions: ReadingQuestion[] = [];
  let dayFirst: string | null = null;
  let monthFirst: string | null = null;
  let openDate: string | null = null;
  let openNumber: string | null = null;
  const sure = new Set<NumberStyle>();
  const numbers = table.columns.flatMap((column, i) => (column && numeric.includes(column.name) ? [i] : []));
  for (const cells of table.rows) {
    const when = whenOf(table, cells);
    const open = openOrder(when);
    if (open) {
      if (open.first > 12) dayFirst ??= when;
      else if (open.second > 12) monthFirst ??= when;
      openDate ??= when;
    }
    for (const i of numbers) {
      const value = cells[i];
      if (value === undefined || value === "") continue;
      const style = styleOf(value);
      // Between commas a decimal comma would need quotes: a point there is a decimal point.
      if (style === "open" && table.delimiter === "," && value.includes(".")) sure.add("point");
      else if (style === "open") openNumber ??= value.trim();
      else if (style) sure.add(style);
    }
  }
  const order = answers.dateOrder ?? (dayFirst && !monthFirst ? "dmy" : monthFirst && !dayFirst ? "mdy" : undefined);
  if (openDate && !order) questions.push({ ask: "dateOrder", example: openDate });
  const [only] = sure.size === 1 ? [...sure] : [];
  const style = answers.decimal ?? only ?? (openNumber || sure.size > 1 ? undefined : "point");
  if (!style) questions.push({ ask: "decimal", example: openNumber ?? "1,5 beside 1.5" });
  const rate = table.column("rate");
  const rateFactor = answers.rateUnit ? rateUnits[answers.rateUnit] : rate?.factor;
  if (!rateFactor) questions.push({ ask: "rateUnit", example: rate?.title.trim() ?? "" });
  return { questions, order, style: style ?? "point", rateFactor: rateFactor ?? 1 };
}

const whyNot = {
  shape: "is not a time; write 2026-06-10 19:30, or with an offset 2026-06-10T19:30:00+01:00",
  "no such day": "names a day that is not in the calendar",
  "skipped hour": "did not exist on that day: the clock went forward over it",
  "order unknown": "is not a time in the order of the others",
} as const;

function readRow(table: Table, cells: string[], line: number, settled: Settled, timeZone: string): RowReading {
  const { columns, column, cell } = table;
  if (cells.length !== columns.length)
    return {
      line,
      measurement: null,
      faults: [{ column: null, message: `${cells.length} values where the first line names ${columns.length} columns` }],
    };
  const faults: { column: string | null; message: string }[] = [];
  const fault = (name: ColumnName, message: string) => void faults.push({ column: column(name)?.title.trim() ?? name, message });
  const number = (name: ColumnName): number | undefined => {
    const text = cell(cells, name);
    if (text === "") return undefined;
    const value = readNumber(text, settled.style) * (name === "rate" ? settled.rateFactor : (column(name)?.factor ?? 1));
    const limit = most[name] ?? Number.POSITIVE_INFINITY;
    if (Number.isFinite(value) && value >= 0 && value <= limit) return value;
    fault(name, Number.isFinite(value) ? `"${short(text)}" is more or less than can be meant` : `"${short(text)}" is not a number`);
    return undefined;
  };
  const oneOf = <T extends string>(name: ColumnName, options: readonly T[]): T | undefined => {
    const text = cell(cells, name).toLowerCase();
    const found = options.find((option) => option === text);
    if (text !== "" && !found) fault(name, `"${short(text)}" is not one of ${options.join(", ")}`);
    return found;
  };

  const when = whenOf(table, cells);
  const clock = column("time") ?? column("date");
  const moment = readMoment(when, clock?.isUtc ? "UTC" : timeZone, settled.order);
  if (moment.kind === "wrong") fault(column("time") ? "time" : "date", `"${short(when)}" ${whyNot[moment.why]}`);
  const rateBps = number("rate");
  if (cell(cells, "rate") === "") fault("rate", "there is no rate in this line");
  else if (rateBps !== undefined && rateBps < 0.5) fault("rate", "a rate of 0 is no measurement; leave the line out");
  const seriesText = cell(cells, "series");
  const seriesBps = seriesText === "" ? undefined : seriesText.split(/\s+/).map(Number);
  if (seriesBps?.some((value) => !Number.isInteger(value) || value < 0 || value > 1e10) || (seriesBps?.length ?? 0) > 3600)
    fault("series", "the series is not a row of whole numbers in bit/s");
  const payload = cell(cells, "payload");
  const reason = cell(cells, "excluded");
  if (reason !== "" && (reason.length < 3 || reason.length > 200)) fault("excluded", "a reason takes 3 to 200 characters");
  if (payload !== "" && !/^\d{1,5}$/.test(payload)) fault("payload", `"${short(payload)}" is not a number of bytes`);
  const optional = {
    rttMs: number("rtt"),
    jitterMs: number("jitter"),
    lossRatio: number("loss"),
    udpPayloadBytes: payload === "" ? undefined : Number(payload),
    seriesBps,
    // Led by an apostrophe where a spreadsheet would have run it as a formula.
    excluded: reason.replace(/^'(?=[=+\-@])/, "") || undefined,
  };
  const measurement: MeasurementInput = {
    takenAt: new Date(moment.kind === "instant" ? moment.ms : 0).toISOString(),
    durationS: number("duration") ?? 10,
    rateBps: Math.round(rateBps ?? 0),
    layer: oneOf("layer", layers) ?? "ip",
    floor: oneOf("floor", ["yes", "no"]) === "yes",
    source: oneOf("source", sources) ?? "csv",
    ...Object.fromEntries(Object.entries(optional).filter(([, value]) => value !== undefined)),
  };
  if (faults.length > 0) return { line, measurement: null, faults };
  const twice = moment.kind === "instant" && moment.twice;
  return { line, measurement, remark: twice ? "this clock time came twice that night; taken as the first" : null };
}
