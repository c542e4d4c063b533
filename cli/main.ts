import { readFileSync } from "node:fs";
import { parseArgs } from "node:util";
import { checkInput } from "@ukaza/contract/findings";
import { fitProblem } from "@ukaza/contract/fit";
import type { FitReport } from "@ukaza/contract/fitPlan";
import { platformFile } from "@ukaza/contract/library";
import { Refusal, readAs } from "@ukaza/contract/problem";
import { ruleSheet } from "@ukaza/contract/ruleSheet";
import { settings } from "@ukaza/contract/settings";
import { readMeasurementEntry } from "@ukaza/contract/survey";
import { timeZone as timeZoneSchema } from "@ukaza/contract/units";
import { insightsOf } from "@ukaza/core/fit/plan/insights";
import { solve } from "@ukaza/core/fit/plan/solve";
import { faultsIn, measurementsOf, type ReadingQuestion } from "@ukaza/core/formats/fileReading";
import { readMeasurements } from "@ukaza/core/formats/measurements";
import { readTime } from "@ukaza/core/formats/when";
import { feedLoad } from "@ukaza/core/media/load";
import { checkSettings } from "@ukaza/core/rules/check";
import { pathVerdict } from "@ukaza/core/survey/path";
import { readingOf } from "@ukaza/core/survey/reading";
import { sustainableRate } from "@ukaza/core/survey/sustainable";
import { z } from "zod";
import { explained } from "../app/words/plan";

export const usage = `ukaza: the sums of a live stream. JSON on standard output, errors on standard error (exit code 2).

  ukaza survey FILE… [--at ISO] [--tz ZONE]   what a line will carry at a time, from CSV or iperf3 -J files
  ukaza fit PROBLEM.json [--explain]          the best use of encoders and lines for all destinations, with its proof
  ukaza check SHEET.json SETTINGS.json        settings against a rule sheet
  ukaza load SETTINGS.json                    the load of a feed on its uplink, bit/s at the IP layer

  --at    start of the show, 2026-06-10T19:30:00+01:00; without an offset it is read in ZONE (now)
  --tz    time zone of the venue, as Region/City (UTC)
  --date-order dmy|mdy, --decimal point|comma, --rate-unit UNIT, --client-at venue|far-end
          what a file leaves open; asked for when it is needed
  --explain  the answer in words instead of JSON
  --help  this text`;

const wrong = (detail: string, mend = "See ukaza --help.") => new Refusal(400, "usage", detail, mend);

function readFile(path: string): string {
  try {
    return readFileSync(path, "utf8");
  } catch (error) {
    throw wrong(
      `${path}: ${(error as NodeJS.ErrnoException).code === "ENOENT" ? "there is no such file" : (error as Error).message}`,
      "Check the file's name.",
    );
  }
}

function readJson(path: string): unknown {
  try {
    return JSON.parse(readFile(path));
  } catch (error) {
    if (error instanceof Refusal) throw error;
    throw wrong(`${path}: this is not JSON (${(error as Error).message})`, "Mend the file.");
  }
}

const TWO_HOURS_MS = 7_200_000;

/** More faults than this help nobody. */
const FAULTS_SHOWN = 20;

const flagFor: Record<ReadingQuestion["ask"], string> = {
  dateOrder: "Say which with --date-order dmy or --date-order mdy.",
  decimal: "Say which with --decimal point or --decimal comma.",
  rateUnit: "Say the unit with --rate-unit: bit/s, kb/s, Mb/s or Gb/s.",
  clientAt: "Say where the client stood with --client-at venue or --client-at far-end.",
};

const answersSchema = z.object({
  dateOrder: z.enum(["dmy", "mdy"]).optional(),
  decimal: z.enum(["point", "comma"]).optional(),
  rateUnit: z.enum(["bit/s", "kb/s", "Mb/s", "Gb/s"]).optional(),
  clientAt: z
    .enum(["venue", "far-end"])
    .transform((at) => (at === "far-end" ? ("far end" as const) : at))
    .optional(),
});

function survey(files: string[], at: string | undefined, zone: string, answers: z.infer<typeof answersSchema>, now: Date): unknown {
  if (files.length === 0) throw wrong("survey wants at least one file");
  readAs(timeZoneSchema, zone, "--tz");
  const startMs = at === undefined ? now.getTime() : readTime(at, zone);
  if (startMs === null) throw wrong(`--at: "${at}" is not a time`, "Write it as 2026-06-10T19:30:00+01:00.");
  const measurements = files.flatMap((file) => {
    const reading = readMeasurements(readFile(file), { timeZone: zone, ...answers }, readMeasurementEntry);
    const [question] = reading.questions;
    if (question) throw wrong(`${file}: "${question.example}" can be read in two ways`, flagFor[question.ask]);
    const faults = faultsIn(reading).map((f) => ({ at: `${file}${f.line === null ? "" : `, line ${f.line}`}`, message: f.message }));
    if (faults.length === 0) return measurementsOf(reading);
    const shown = faults.slice(0, FAULTS_SHOWN);
    throw new Refusal(422, "file-not-read", shown.map((f) => `${f.at}: ${f.message}`).join("\n"), "Mend the lines named.", shown);
  });
  const numbered = measurements.map((m, i) => readingOf({ ...m, id: `m-${i + 1}` }));
  const show = { start: new Date(startMs).toISOString(), end: new Date(startMs + TWO_HOURS_MS).toISOString() };
  const result = sustainableRate(numbered, { show, timeZone: zone, asOf: now.toISOString(), reserveOverride: null });
  return {
    show,
    timeZone: zone,
    result,
    path: pathVerdict(numbered, result.usableBps ?? 0),
    measurements: numbered.map((m) => ({ id: m.id, takenAt: new Date(m.takenAtMs).toISOString(), ownIpBps: m.ownIpBps })),
  };
}

function readAnswers(values: ReturnType<typeof parse>["values"]) {
  const given = {
    dateOrder: values["date-order"],
    decimal: values.decimal,
    rateUnit: values["rate-unit"],
    clientAt: values["client-at"],
  };
  const parsed = answersSchema.safeParse(given);
  if (!parsed.success) throw wrong(`${parsed.error.issues[0]?.path.join(".")}: ${parsed.error.issues[0]?.message}`);
  return parsed.data;
}

/** A sheet alone or a platform's file with the sheet in it. */
function readSheet(path: string) {
  const json = readJson(path);
  const wrapped = platformFile.safeParse(json);
  return wrapped.success ? wrapped.data.sheet : readAs(ruleSheet, json, path);
}

/** Carries out one command line; throws a Refusal for everything that a person can mend. */
export function ukaza(args: string[], now: Date): unknown {
  const { values, positionals } = parse(args);
  const [command, ...files] = positionals;
  if (values.help || command === undefined) return usage;
  const exactly = (n: number) => {
    if (files.length !== n) throw wrong(`${command} wants ${n === 1 ? "one file" : `${n} files`}, ${files.length} given`);
    return files as [string, string];
  };
  switch (command) {
    case "survey":
      return survey(files, values.at, values.tz, readAnswers(values), now);
    case "fit": {
      const [path] = exactly(1);
      const problem = readAs(fitProblem, readJson(path), path);
      const answer = solve(problem);
      const insights = answer.kind === "fit" ? insightsOf(problem, answer.plan) : null;
      const report: FitReport = { format: "ukaza-fit-answer", version: 1, answer, insights };
      return values.explain ? explained(problem, report) : report;
    }
    case "check": {
      const [sheetPath, settingsPath] = exactly(2);
      return checkSettings(readAs(checkInput, { sheet: readSheet(sheetPath), settings: readJson(settingsPath) }, settingsPath));
    }
    case "load": {
      const [path] = exactly(1);
      return feedLoad(readAs(settings, readJson(path), path));
    }
    default:
      throw wrong(`there is no command "${command}"`);
  }
}

function parse(args: string[]) {
  try {
    return parseArgs({
      args,
      allowPositionals: true,
      options: {
        at: { type: "string" },
        tz: { type: "string", default: "UTC" },
        "date-order": { type: "string" },
        decimal: { type: "string" },
        "rate-unit": { type: "string" },
        "client-at": { type: "string" },
        explain: { type: "boolean", default: false },
        help: { type: "boolean", default: false },
      },
    });
  } catch (error) {
    throw wrong((error as Error).message);
  }
}

if (require.main === module) {
  try {
    const answer = ukaza(process.argv.slice(2), new Date());
    console.log(typeof answer === "string" ? answer : JSON.stringify(answer, null, 2));
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    console.error(`${error.problem.detail}\n${error.problem.mend}`);
    process.exitCode = 2;
  }
}
