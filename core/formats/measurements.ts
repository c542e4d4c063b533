import { z } from "zod";
import {
  type EntryReader,
  type FileReading,
  MOST_CHARACTERS,
  MOST_ROWS,
  type ReadingAnswers,
  type ReadingQuestion,
  type RowReading,
  wholeFault,
} from "./fileReading";
import { readIperf3 } from "./iperf3";
import { splitDocuments } from "./jsonDocuments";
import { readMeasurementsCsv } from "./measurementsCsv";

const opening = z.object({ format: z.literal("ukaza-measurements"), version: z.literal(1), measurements: z.array(z.unknown()) });

/**
 * Reads a file of measurements: delimited text, one or more runs of `iperf3 -J`, or our own JSON. Each row or run gets
 * its own verdict; `line` counts lines of text, or runs, from 1.
 */
export function readMeasurements(text: string, answers: ReadingAnswers, readEntry: EntryReader): FileReading {
  if (text.length > MOST_CHARACTERS)
    return wholeFault("csv", `the file holds ${(text.length / 1e6).toFixed(0)} million characters; at most 20 are read. Split it`);
  if (text.trim() === "") return wholeFault("csv", "the file is empty");
  if (!/^[\uFEFF\s]*[{[]/.test(text)) return readMeasurementsCsv(text, answers);
  if (/^[\uFEFF\s]*\{\s*"format"\s*:\s*"ukaza-/.test(text)) return readOwn(text.replace(/^\uFEFF/, ""), readEntry);
  return readRuns(splitDocuments(text.replace(/^\uFEFF/, "")), answers);
}

function readRuns(documents: string[], answers: ReadingAnswers): FileReading {
  const questions: ReadingQuestion[] = [];
  const rows = documents.map((document, i): RowReading => {
    const reading = readIperf3(document, answers);
    if ("ask" in reading) questions.push(reading);
    if ("measurement" in reading) return { line: i + 1, ...reading };
    const message = "fault" in reading ? reading.fault : "which end ran it has not been said";
    return { line: i + 1, measurement: null, faults: [{ column: null, message }] };
  });
  return { kind: "iperf3", faults: [], questions: questions.slice(0, 1), rows: questions.length > 0 ? [] : rows, ignored: [] };
}

function readOwn(text: string, readEntry: EntryReader): FileReading {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    return wholeFault("measurements", `this is not whole JSON (${(error as Error).message}); export it again`);
  }
  const whole = opening.safeParse(json);
  if (!whole.success) {
    const issue = whole.error.issues[0];
    return wholeFault(
      "measurements",
      `this is no file of measurements: ${issue?.path.join(".") || "the whole"}: ${issue?.message ?? "unknown"}`,
    );
  }
  if (whole.data.measurements.length > MOST_ROWS) return wholeFault("measurements", `at most ${MOST_ROWS} measurements are read at a time`);
  const rows = whole.data.measurements.map((entry, i): RowReading => {
    const read = readEntry(entry);
    return "measurement" in read ? { line: i + 1, remark: null, ...read } : { line: i + 1, measurement: null, ...read };
  });
  return { kind: "measurements", faults: [], questions: [], rows, ignored: [] };
}
