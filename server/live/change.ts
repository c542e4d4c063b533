import type { Incident, LogData, LogLine, Sample, StreamMessage, Verdict } from "@ukaza/contract/air";
import type { Role } from "@ukaza/contract/rig";
import type { Db } from "../db/open";
import { appendLog, type NewLogLine, type Run } from "../events/store";
import { finish, insertIncident, insertSamples, insertSpan, insertVerdict, saveRun } from "./store";

/** What one second or one order changed, kept together until it is written in one transaction. */
export class Change {
  readonly samples: Sample[] = [];
  readonly verdicts: Verdict[] = [];
  readonly lines: NewLogLine[] = [];
  readonly spans: { from: string; role: Role }[] = [];
  incident: Incident | null = null;
  finished = false;

  constructor(readonly at: string) {}

  say(kind: NewLogLine["kind"], level: LogLine["level"], data: LogData, feedId: string | null = null): void {
    this.lines.push({ at: this.at, kind, level, feedId, data });
  }

  /** Writes all of it or none, then tells whoever listens: what is not written is not told. */
  async write(db: Db, publish: (message: StreamMessage) => void, eventId: string, run: Run): Promise<void> {
    const lines = await db.transaction(async (tx) => {
      await insertSamples(tx, this.samples);
      for (const verdict of this.verdicts) await insertVerdict(tx, verdict);
      for (const span of this.spans) await insertSpan(tx, eventId, run.destinationId, span.from, span.role);
      if (this.incident) await insertIncident(tx, eventId, this.incident);
      await saveRun(tx, eventId, run);
      if (this.finished) await finish(tx, eventId, run.facts.stoppedAt ?? run.facts.endedAt ?? this.at);
      return appendLog(tx, eventId, this.lines);
    });
    if (this.samples.length > 0) publish({ type: "samples", samples: this.samples });
    if (lines.length > 0) publish({ type: "log", lines });
    if (lines.length > 0 || this.incident) publish({ type: "changed", what: ["event", "lineup", "air", "wrap"] });
  }
}
