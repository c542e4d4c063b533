import { randomBytes } from "node:crypto";
import { type LineTest, type LineTestJob, type LineTestOrder, type LineTestProgress, MOST_PLANNED } from "@ukaza/contract/lineTest";
import { Refusal } from "@ukaza/contract/problem";
import type { MeasurementInput } from "@ukaza/contract/survey";
import { mean } from "@ukaza/core/stats";
import { dueNow, testShape } from "@ukaza/core/survey/testPlan";
import type { Logger } from "pino";
import type { Queryable } from "../db/open";
import { queries } from "../db/queries";
import type { Drivers } from "../drivers/drivers";
import type { Hub } from "../http/hub";
import type { MeasurementBook } from "../survey/book";
import { addUsedGb, busyUplinks, openEventsAt, uplinkOf } from "../venues/store";
import type { RunningTest, RunTest } from "./runInChild";

const q = queries(__dirname);

type Row = { [Key in keyof Omit<LineTest, "progress">]: Key extends "dueAt" | "startedAt" | "endedAt" ? Date | null : LineTest[Key] };

const iso = (date: Date | null) => (date === null ? null : date.toISOString());
const asTest = (row: Row, progress: LineTestProgress | null): LineTest => ({
  ...row,
  dueAt: iso(row.dueAt) ?? "",
  startedAt: iso(row.startedAt),
  endedAt: iso(row.endedAt),
  bytes: row.bytes === null ? null : Number(row.bytes),
  progress,
});

interface Deps {
  db: Queryable;
  book: MeasurementBook;
  drivers: Drivers;
  hub: Hub;
  log: Logger;
  now: () => Date;
  run: RunTest;
}

/**
 * Built-in tests, now and planned. One runs at a time, since two would measure one another; none runs on an uplink that
 * carries a feed. What is planned survives the server; what ran when it ended has failed.
 */
export class LineTests {
  private current: { id: string; uplinkId: string; running: RunningTest; progress: LineTestProgress } | null = null;
  private readonly cancelled = new Set<string>();
  private timer: NodeJS.Timeout | null = null;
  private ticking: Promise<void> = Promise.resolve();
  private stopped = false;

  constructor(private readonly deps: Deps) {}

  async start(): Promise<void> {
    const { db, now } = this.deps;
    const { rows } = await db.query<Row>(q("open"), [now().toISOString()]);
    for (const row of rows) if (row.state === "running") await this.end(row.id, "failed", { reason: "the server ended during the test" });
    this.timer = setInterval(() => void this.tick(), 1_000);
  }

  async stop(): Promise<void> {
    this.stopped = true;
    if (this.timer) clearInterval(this.timer);
    this.current?.running.cancel();
    await this.current?.running.ended;
    await this.ticking;
  }

  async list(uplinkId: string): Promise<LineTest[]> {
    const { rows } = await this.deps.db.query<Row>(q("list"), [uplinkId, this.deps.now().toISOString()]);
    return rows.map((row) => asTest(row, this.progressOf(row.id)));
  }

  private progressOf(id: string): LineTestProgress | null {
    return this.current?.id === id ? this.current.progress : null;
  }

  /** Orders tests; throws where none can run. */
  async order(uplinkId: string, order: LineTestOrder): Promise<LineTest[]> {
    const { db, now } = this.deps;
    await this.wayOf(uplinkId);
    const nowMs = now().getTime();
    if (order.kind === "now" && (await busyUplinks(db)).has(uplinkId))
      throw new Refusal(
        409,
        "uplink-busy",
        "a feed is on this uplink now, and a test would fill the line and hurt it",
        "Test another uplink, or wait for the end.",
      );
    const times = order.kind === "now" ? [nowMs] : [...new Set(order.at.map((at) => Date.parse(at)))];
    if (order.kind === "plan") {
      if (times.some((ms) => ms <= nowMs))
        throw new Refusal(422, "time-gone-by", "one of the times has gone by already", "Choose times to come.");
      const { rows } = await db.query<{ count: number }>(q("plannedCount"), [uplinkId]);
      if ((rows[0]?.count ?? 0) + times.length > MOST_PLANNED)
        throw new Refusal(422, "too-many-tests", `more than ${MOST_PLANNED} tests would be planned here`, "Plan fewer, or cancel some.");
    }
    const state = order.kind === "now" ? "waiting" : "planned";
    const tests = times.map((ms) => ({ id: `t-${randomBytes(8).toString("hex")}`, dueAt: new Date(ms).toISOString(), state }));
    await db.query(q("insert"), [uplinkId, JSON.stringify(tests)]);
    void this.tick();
    return this.list(uplinkId);
  }

  /** Cancels one test, waiting, planned or under way. */
  async cancel(id: string): Promise<LineTest> {
    const [row] = (await this.deps.db.query<Row>(q("one"), [id])).rows;
    if (!row) throw new Refusal(404, "no-such-test", `there is no test "${id}"`, "Open the survey again.");
    if (this.current?.id === id) {
      this.cancelled.add(id);
      this.current.running.cancel();
    } else await this.end(id, "cancelled", {});
    await this.ticking;
    const [after] = (await this.deps.db.query<Row>(q("one"), [id])).rows;
    return asTest(after ?? row, this.progressOf(id));
  }

  async cancelPlanned(uplinkId: string): Promise<number> {
    return (await this.deps.db.query(q("cancelPlanned"), [uplinkId, this.deps.now().toISOString()])).rows.length;
  }

  /** Starts what is due, one test at a time. */
  tick(): Promise<void> {
    this.ticking = this.ticking.then(() => this.startDue()).catch((error: Error) => this.deps.log.error({ err: error }, "planned tests"));
    return this.ticking;
  }

  private async startDue(): Promise<void> {
    if (this.stopped) return;
    const { db, now } = this.deps;
    const at = now();
    const { rows } = await db.query<Row>(q("open"), [at.toISOString()]);
    if (rows.length === 0) return;
    const open = rows.map((row) => asTest(row, null));
    const { due, missed } = dueNow(open, at.getTime());
    for (const id of missed) await this.end(id, "missed", { reason: "the server was not up at that time" });
    if (this.current) return;
    const next = open.find((t) => t.state === "waiting" || due.includes(t.id));
    if (next) await this.begin(next);
  }

  private async begin({ id, uplinkId }: LineTest): Promise<void> {
    const { db, now, run } = this.deps;
    if ((await busyUplinks(db)).has(uplinkId)) return this.end(id, "skipped", { reason: "a feed was on the line" });
    let way: Awaited<ReturnType<LineTests["wayOf"]>>;
    try {
      way = await this.wayOf(uplinkId);
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      return this.end(id, "failed", { reason: error.problem.detail });
    }
    const startedAt = now().toISOString();
    await this.set(id, "running", { startedAt });
    const progress: LineTestProgress = { phase: "reaching", share: 0, rateBps: null };
    const running = run(way.job, (said) => {
      if (this.current?.id === id) this.current.progress = said;
      void this.tell(uplinkId, id);
    });
    this.current = { id, uplinkId, running, progress };
    await this.tell(uplinkId, id);
    void running.ended.then((outcome) => {
      this.ticking = this.ticking
        .then(() => this.conclude(id, uplinkId, startedAt, way.source, outcome))
        .catch((error: Error) => this.deps.log.error({ err: error }, "a line test"))
        .then(() => this.startDue());
    });
  }

  private async conclude(
    id: string,
    uplinkId: string,
    startedAt: string,
    source: MeasurementInput["source"],
    outcome: Awaited<RunningTest["ended"]>,
  ): Promise<void> {
    const { db, book, hub } = this.deps;
    this.current = null;
    if (this.cancelled.delete(id)) await this.end(id, "cancelled", {});
    else if (outcome.kind === "failed") await this.end(id, "failed", { reason: outcome.reason });
    else {
      const measurement: MeasurementInput = {
        takenAt: startedAt,
        durationS: outcome.durationS,
        rateBps: Math.max(1, Math.round(mean(outcome.seriesBps) ?? 1)),
        layer: "tcp",
        seriesBps: outcome.seriesBps,
        floor: false,
        source,
        lossRatio: outcome.lossRatio,
        ...(outcome.rttMs === null ? {} : { rttMs: tenths(outcome.rttMs) }),
        ...(outcome.jitterMs === null ? {} : { jitterMs: tenths(outcome.jitterMs) }),
      };
      const [measurementId = null] = await book.add(uplinkId, [measurement], null);
      await addUsedGb(db, uplinkId, outcome.sentBytes / 1e9);
      await this.end(id, "done", { measurementId, bytes: outcome.sentBytes });
    }
    const { venueId } = await uplinkOf(db, uplinkId);
    for (const event of await openEventsAt(db, venueId)) hub.publish(event, { type: "changed", what: ["event", "survey", "fit"] });
    await this.tell(uplinkId, id);
  }

  /** Where a test of this uplink sends to: what was written for it, else the stand-in line's entry. */
  private async wayOf(uplinkId: string): Promise<{ job: LineTestJob; source: MeasurementInput["source"] }> {
    const { uplink } = await uplinkOf(this.deps.db, uplinkId);
    if (uplink.kind === "bonded") throw new Refusal(409, "bonded-group", "a bonded group is measured by its members", "Test each member.");
    const { uploadS, connections, probes, probeEveryMs } = testShape;
    const shape = { localAddress: uplink.localAddress, connections, uploadS, probes, probeEveryMs };
    if (uplink.reflector !== null) {
      const cut = uplink.reflector.lastIndexOf(":");
      const job = { ...shape, host: uplink.reflector.slice(0, cut).replace(/^\[|\]$/g, ""), port: Number(uplink.reflector.slice(cut + 1)) };
      return { job, source: "built-in test" };
    }
    const lines = await this.deps.drivers.line?.list();
    const entry = lines?.find((line) => line.id === uplinkId)?.entry;
    if (!entry)
      throw new Refusal(
        409,
        "no-reflector",
        "no reflector is known for this uplink, so there is nothing to test against",
        "Write its address into the uplink; npm run reflector starts one.",
      );
    return { job: { ...shape, ...entry }, source: "test of the stand-in line" };
  }

  private async set(
    id: string,
    state: LineTest["state"],
    more: Partial<Pick<LineTest, "startedAt" | "endedAt" | "measurementId" | "bytes" | "reason">>,
  ) {
    const { startedAt = null, endedAt = null, measurementId = null, bytes = null, reason = null } = more;
    await this.deps.db.query(q("set"), [id, state, startedAt, endedAt, measurementId, bytes, reason]);
  }

  private end(id: string, state: LineTest["state"], more: Partial<Pick<LineTest, "measurementId" | "bytes" | "reason">>): Promise<void> {
    return this.set(id, state, { endedAt: this.deps.now().toISOString(), ...more });
  }

  private async tell(uplinkId: string, id: string): Promise<void> {
    const { db, hub } = this.deps;
    const [row] = (await db.query<Row>(q("one"), [id])).rows;
    if (!row) return;
    const test = asTest(row, this.progressOf(id));
    for (const event of await openEventsAt(db, (await uplinkOf(db, uplinkId)).venueId)) hub.publish(event, { type: "line-test", test });
  }
}

const tenths = (value: number) => Math.round(value * 10) / 10;
