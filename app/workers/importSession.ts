import { BATCH, KEYS, type MeasurementInput, readMeasurementEntry } from "@ukaza/contract/survey";
import { type FileReading, MOST_CHARACTERS, type ReadingAnswers, type ReadingQuestion, wholeFault } from "@ukaza/core/formats/fileReading";
import { readMeasurements } from "@ukaza/core/formats/measurements";
import { quantile } from "@ukaza/core/stats";
import { contentKey } from "@ukaza/core/survey/contentKey";
import { ownIpBps } from "@ukaza/core/survey/ownRate";

export type RowVerdict = "new" | "known" | "wrong";

export interface PreviewRow {
  line: number;
  verdict: RowVerdict;
  takenAt: string | null;
  ownIpBps: number | null;
  /** A remark, or what is wrong. */
  words: string | null;
}

/** What a file holds, before anything is taken from it. */
export interface Preview {
  kind: FileReading["kind"];
  faults: { column: string | null; message: string }[];
  questions: ReadingQuestion[];
  ignored: string[];
  counts: Record<RowVerdict, number>;
  floors: number;
  span: { from: string; until: string } | null;
  rates: { leastBps: number; medianBps: number; mostBps: number } | null;
}

/** Asks the server; throws what it refuses. */
export type Ask = (path: string, body: unknown) => Promise<unknown>;
export type OnProgress = (done: number, total: number) => void;

type Judged = { line: number; measurement: MeasurementInput | null; verdict: RowVerdict; words: string | null };

/** One file on its way into an uplink: read, judged row by row, and taken in batches. Runs in a worker. */
export class ImportSession {
  private rows: Judged[] = [];
  private stopped = false;

  constructor(
    private readonly uplinkId: string,
    private readonly ask: Ask,
  ) {}

  stop(): void {
    this.stopped = true;
  }

  /** Reads a file and asks the server which of its measurements it has. */
  async read(text: string, answers: ReadingAnswers, nowMs: number, onProgress: OnProgress): Promise<Preview> {
    const reading =
      text.length > MOST_CHARACTERS
        ? wholeFault("csv", "the file is larger than 20 MB; split it and import the parts")
        : readMeasurements(text, answers, readMeasurementEntry);
    this.rows = [];
    const seen = new Set<string>();
    const asked: { row: Judged; key: string }[] = [];
    for (const { line, ...read } of reading.rows) {
      if (read.measurement === null) {
        const words = read.faults.map((f) => (f.column === null ? f.message : `${f.column}: ${f.message}`)).join("; ");
        this.rows.push({ line, measurement: null, verdict: "wrong", words });
        continue;
      }
      const { measurement, remark } = read;
      const key = contentKey(measurement);
      const row: Judged = { line, measurement, verdict: "new", words: remark };
      if (Date.parse(measurement.takenAt) > nowMs)
        Object.assign(row, { measurement: null, verdict: "wrong", words: "its time lies in the future" });
      else if (seen.has(key)) Object.assign(row, { verdict: "known", words: "stands in this file already" });
      else asked.push({ row, key });
      seen.add(key);
      this.rows.push(row);
    }
    for (let at = 0; at < asked.length && !this.stopped; at += KEYS) {
      const part = asked.slice(at, at + KEYS);
      const answer = (await this.ask(`/uplinks/${this.uplinkId}/measurements/known`, { keys: part.map((p) => p.key) })) as {
        known: string[];
      };
      const known = new Set(answer.known);
      for (const { row, key } of part) if (known.has(key)) Object.assign(row, { verdict: "known", words: "is here already" });
      onProgress(Math.min(at + KEYS, asked.length), asked.length);
    }
    return this.preview(reading);
  }

  private preview({ kind, faults, questions, ignored }: FileReading): Preview {
    const counts: Preview["counts"] = { new: 0, known: 0, wrong: 0 };
    const fresh: MeasurementInput[] = [];
    for (const row of this.rows) {
      counts[row.verdict] += 1;
      if (row.verdict === "new" && row.measurement) fresh.push(row.measurement);
    }
    const times = fresh.map((m) => m.takenAt).sort();
    const rates = fresh.map((m) => ownIpBps(m));
    const at = (q: number) => quantile(rates, q) ?? 0;
    return {
      kind,
      faults,
      questions,
      ignored,
      counts,
      floors: fresh.filter((m) => m.floor).length,
      span: times[0] ? { from: times[0], until: times.at(-1) ?? times[0] } : null,
      rates: rates.length > 0 ? { leastBps: at(0), medianBps: at(0.5), mostBps: at(1) } : null,
    };
  }

  /** A stretch of the rows with one verdict, or of all. */
  page(verdict: RowVerdict | "all", skip: number, take: number): PreviewRow[] {
    const found: PreviewRow[] = [];
    let passed = 0;
    for (const row of this.rows) {
      if (verdict !== "all" && row.verdict !== verdict) continue;
      if (passed++ < skip) continue;
      if (found.length >= take) break;
      const m = row.measurement;
      found.push({
        line: row.line,
        verdict: row.verdict,
        takenAt: m?.takenAt ?? null,
        ownIpBps: m ? Math.round(ownIpBps(m)) : null,
        words: row.words,
      });
    }
    return found;
  }

  /** Takes every new measurement, a batch at a time. What was taken before a stop stays, under the import's id. */
  async take(importId: string, onProgress: OnProgress): Promise<{ added: number }> {
    const fresh = this.rows.flatMap((row) => (row.verdict === "new" && row.measurement ? [row.measurement] : []));
    let added = 0;
    for (let at = 0; at < fresh.length && !this.stopped; at += BATCH) {
      const measurements = fresh.slice(at, at + BATCH);
      const last = at + BATCH >= fresh.length;
      const answer = (await this.ask(`/uplinks/${this.uplinkId}/measurements/batch`, { measurements, importId, last })) as {
        added: number;
      };
      added += answer.added;
      onProgress(Math.min(at + BATCH, fresh.length), fresh.length);
    }
    return { added };
  }
}
