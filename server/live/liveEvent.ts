import type { AirNow, Decision, Incident, LogData, LogLine, Sample, StreamMessage, Verdict } from "@ukaza/contract/air";
import { Refusal } from "@ukaza/contract/problem";
import type { Role } from "@ukaza/contract/rig";
import type { Broadcast } from "@ukaza/contract/standins";
import { type FailoverState, failoverStep, switchByHand } from "@ukaza/core/air/failover";
import { type FeedHealth, feedHealthStep, newFeedHealth, resumeFeedHealth } from "@ukaza/core/air/feedHealth";
import { incidentStep } from "@ukaza/core/air/incidents";
import { advanceFacts } from "@ukaza/core/lineup/advance";
import { broadcastStateOf } from "@ukaza/core/lineup/progress";
import { noFacts, runSheet } from "@ukaza/core/lineup/runSheet";
import { median } from "@ukaza/core/stats";
import type { Db } from "../db/open";
import type { Drivers, EncoderDriver, PlatformDriver } from "../drivers/drivers";
import { appendLog, type EventDossier, loadDossier, type NamedFeed, type NewLogLine, type Run } from "../events/store";
import { type Observation, sampleOf } from "./observe";
import {
  finish,
  insertIncident,
  insertSamples,
  insertSpan,
  insertVerdict,
  readIncidents,
  readSamples,
  readVerdicts,
  saveRun,
} from "./store";

/** Seconds without an answer after which the log says that a side is not heard. */
const LOST_AFTER = 2;
const RESUME_WINDOW_MS = 30_000;

/** What one second or one order changed, kept together until it is written in one transaction. */
interface Change {
  samples: Sample[];
  verdicts: Verdict[];
  lines: NewLogLine[];
  spans: { from: string; role: Role }[];
  incident: Incident | null;
  finished: boolean;
}

const nothing = (): Change => ({ samples: [], verdicts: [], lines: [], spans: [], incident: null, finished: false });

export type StepTaken = "send" | "watch" | "public" | "end" | "stop";

/** One event whose encoder sends: it watches, decides, acts through the drivers, and writes all of it down. */
export class LiveEvent {
  private readonly encoder: EncoderDriver;
  private readonly platform: PlatformDriver;
  private misses = { encoder: 0, platform: 0 };
  private lastSamples = new Map<string, Sample>();

  private constructor(
    private readonly db: Db,
    private readonly publish: (message: StreamMessage) => void,
    private readonly dossier: EventDossier,
    private readonly healths: Map<string, FeedHealth>,
    private incident: Incident | null,
    drivers: Drivers,
  ) {
    this.encoder = drivers.encoder(dossier.encoder.reach);
    this.platform = drivers.platform(dossier.platformReach);
  }

  /** Picks an event up from the database exactly where it was. */
  static async load(db: Db, drivers: Drivers, publish: (message: StreamMessage) => void, eventId: string, now: Date): Promise<LiveEvent> {
    const dossier = await loadDossier(db, eventId);
    const samples = await readSamples(db, eventId, new Date(now.getTime() - RESUME_WINDOW_MS).toISOString());
    const verdicts = await readVerdicts(db, eventId);
    const healths = new Map(
      dossier.feeds.map((feed) => {
        const last = verdicts.filter((v) => v.feedId === feed.id).at(-1);
        const state = last
          ? resumeFeedHealth(
              last,
              samples.filter((s) => s.feedId === feed.id),
            )
          : newFeedHealth(feed.id, now.toISOString());
        return [feed.id, state];
      }),
    );
    const open = (await readIncidents(db, eventId)).find((i) => i.endedAt === null) ?? null;
    const live = new LiveEvent(db, publish, dossier, healths, open, drivers);
    for (const sample of samples) live.lastSamples.set(sample.feedId, sample);
    return live;
  }

  private get run(): Run {
    return this.dossier.run;
  }

  /** The encoder was told to send and not yet to stop. */
  get running(): boolean {
    return this.run.facts.sendingAt !== null && this.run.facts.stoppedAt === null;
  }

  /** Says in the log that the server came back, and how long nobody watched. */
  async sayStartedAgain(now: Date): Promise<void> {
    const last = [...this.lastSamples.values()].at(-1);
    const since = last ? Date.parse(last.at) : Date.parse(this.run.facts.sendingAt ?? now.toISOString());
    const change = nothing();
    change.lines.push(this.line(now.toISOString(), "server-started-again", "warn", { gapS: Math.round((now.getTime() - since) / 1000) }));
    await this.write(change);
  }

  /** One second: look, judge, decide, write, tell. */
  async tick(now: Date): Promise<void> {
    const at = now.toISOString();
    const change = nothing();
    const seen = await this.look(at, change);
    this.advance(seen.broadcast, at, change);
    await this.adoptSource(seen.broadcast, at, change);
    this.judge(seen, at, change);
    await this.failover(at, change);
    await this.write(change);
  }

  private line(at: string, kind: NewLogLine["kind"], level: LogLine["level"], data: LogData, feedId: string | null = null): NewLogLine {
    return { at, kind, level, feedId, data };
  }

  /** Asks both sides at once; a side that does not answer is null, and after two misses the log says so. */
  private async look(at: string, change: Change): Promise<Observation> {
    const heard = async <T>(side: "encoder" | "platform", ask: Promise<T>): Promise<T | null> => {
      try {
        const answer = await ask;
        if (this.misses[side] >= LOST_AFTER) change.lines.push(this.line(at, "driver-back", "info", { side, forS: this.misses[side] }));
        this.misses[side] = 0;
        return answer;
      } catch (error) {
        this.misses[side]++;
        if (this.misses[side] === LOST_AFTER)
          change.lines.push(this.line(at, "driver-lost", "alarm", { side, why: (error as Error).message }));
        return null;
      }
    };
    const [encoder, broadcast] = await Promise.all([
      heard("encoder", this.encoder.status()),
      heard("platform", this.platform.show(this.run.broadcastId ?? "")),
    ]);
    return { encoder, broadcast };
  }

  private advance(broadcast: Broadcast | null, at: string, change: Change): void {
    const { facts, done } = advanceFacts(this.run.facts, broadcast, at);
    if (facts.verdict === "refused" && this.run.facts.verdict !== "refused") {
      change.lines.push(this.line(at, "step-failed", "alarm", { step: "verdict", reason: facts.verdictReason }));
    }
    this.run.facts = facts;
    for (const step of done)
      change.lines.push(
        this.line(at, "step-done", "info", { step, by: "platform", verdict: step === "verdict" ? facts.verdict : undefined }),
      );
    if (done.includes("public")) this.nowPublic(facts.publicAt ?? at, change);
    if (done.includes("end")) this.nowEnded(facts.endedAt ?? at, change);
  }

  /** The platform is the judge of which ingest viewers see; a switch made there, or lost in a crash, is taken over. */
  private async adoptSource(broadcast: Broadcast | null, at: string, change: Change): Promise<void> {
    if (!broadcast || broadcast.source === this.run.failover.active || !this.isPublic()) return;
    const { state, decision } = switchByHand(this.run.failover, broadcast.source, 0);
    this.record(state, decision, at, change, { foundOnPlatform: true });
  }

  private judge(seen: Observation, at: string, change: Change): void {
    const before = new Map([...this.healths].map(([id, h]) => [id, h.verdict.health]));
    for (const feed of this.dossier.feeds) {
      const sample = sampleOf(feed, seen, at);
      change.samples.push(sample);
      this.lastSamples.set(feed.id, sample);
      const others = this.dossier.feeds.filter((f) => f.id !== feed.id);
      const healthOf = (f: NamedFeed) => before.get(f.id) ?? "silent";
      const siblings = {
        sameUplink: others.filter((f) => f.uplinkId === feed.uplinkId).map(healthOf),
        samePlatformOtherUplink: others.filter((f) => f.uplinkId !== feed.uplinkId).map(healthOf),
      };
      const context = { lineupRttMs: this.run.lineupRttMs[feed.id] ?? null, keyframe: this.dossier.sheet.keyframe };
      const state = this.healths.get(feed.id) ?? newFeedHealth(feed.id, at);
      const next = feedHealthStep(state, sample, context, siblings, at);
      this.healths.set(feed.id, next);
      if (next.verdict.health === state.verdict.health) continue;
      const { health, cause, evidence } = next.verdict;
      const level = health === "steady" ? "info" : health === "strained" ? "warn" : "alarm";
      change.verdicts.push(next.verdict);
      change.lines.push(this.line(at, "health", level, { from: state.verdict.health, to: health, cause, evidence }, feed.id));
    }
  }

  private isPublic(): boolean {
    return this.run.facts.publicAt !== null && this.run.facts.endedAt === null;
  }

  private feedOf(role: Role): NamedFeed | undefined {
    return this.dossier.feeds.find((f) => f.role === role);
  }

  private verdictOf(role: Role): Verdict | null {
    return this.healths.get(this.feedOf(role)?.id ?? "")?.verdict ?? null;
  }

  private async failover(at: string, change: Change): Promise<void> {
    if (!this.isPublic()) return;
    const asInput = (v: Verdict) => ({ health: v.health, sinceMs: Date.parse(v.since) });
    const main = this.verdictOf("main");
    const backup = this.verdictOf("backup");
    if (!main) return;
    const result = failoverStep(
      this.run.failover,
      { nowMs: Date.parse(at), main: asInput(main), backup: backup ? asInput(backup) : null },
      this.dossier.event.failover,
    );
    if (result.decision?.kind === "switch" && !(await this.tellPlatform(result.decision.to, at, change))) return;
    if (result.decision) this.record(result.state, result.decision, at, change, {});
    else this.run.failover = result.state;
    const active = this.verdictOf(this.run.failover.active);
    if (!active) return;
    // The incident is judged on the feed the viewers had in this second, so a switch closes it only when it helped.
    const before = this.incident;
    const next = incidentStep(before, active, this.run.destinationId, result.decision, at);
    change.incident = next ?? (before && !before.endedAt ? { ...before, endedAt: at } : null);
    this.incident = next?.endedAt ? null : next;
  }

  private async tellPlatform(role: Role, at: string, change: Change): Promise<boolean> {
    try {
      await this.platform.setSource(this.run.broadcastId ?? "", role);
      return true;
    } catch (error) {
      change.lines.push(this.line(at, "step-failed", "alarm", { step: "switch", to: role, reason: (error as Error).message }));
      return false;
    }
  }

  private record(state: FailoverState, decision: Decision, at: string, change: Change, more: LogData): void {
    this.run.failover = state;
    const kind = decision.kind === "switch" ? "switch" : decision.kind;
    change.lines.push(this.line(at, kind, decision.kind === "call" ? "alarm" : "warn", { decision, ...more }));
    if (decision.kind === "switch") change.spans.push({ from: at, role: decision.to });
  }

  /** A switch by the technician's own hand. Asking for the feed that is already shown changes nothing. */
  async switchTo(role: Role, now: Date): Promise<void> {
    if (!this.isPublic())
      throw new Refusal(409, "not-public", "there is nothing to switch: the broadcast is not public", "Switching is for the time on air.");
    if (!this.feedOf(role))
      throw new Refusal(409, "no-such-feed", `this destination has no ${role} feed`, "Choose a fit with a backup feed before the show.");
    if (this.run.failover.active === role) return;
    const at = now.toISOString();
    const active = this.verdictOf(this.run.failover.active);
    const gapS = active && active.health !== "steady" ? (now.getTime() - Date.parse(active.since)) / 1000 : 0;
    await this.platform.setSource(this.run.broadcastId ?? "", role);
    const change = nothing();
    const { state, decision } = switchByHand(this.run.failover, role, gapS);
    this.record(state, decision, at, change, {});
    if (this.incident) change.incident = this.incident = { ...this.incident, actions: [...this.incident.actions, { at, decision }] };
    await this.write(change);
  }

  /** Takes a step of the run sheet. One that is done already stays done; one that is locked is refused with what it needs. */
  async take(step: StepTaken, now: Date): Promise<void> {
    const at = now.toISOString();
    const row = runSheet(this.run.destinationId, this.dossier.sheet.lifecycle, this.run.facts, at).steps.find((s) => s.id === step);
    if (!row) throw new Refusal(404, "no-such-step", `this platform has no step "${step}"`, "See the run sheet.");
    if (row.state === "done") return;
    if (row.state !== "ready")
      throw new Refusal(
        409,
        "step-locked",
        `"${step}" cannot be taken yet`,
        row.missing.length > 0 ? `First: ${row.missing.join(", ")}.` : "The encoder must first hold exactly what it was told.",
        row.missing.map((m) => ({ at: m, message: "not done" })),
      );
    const change = nothing();
    await this.act(step, at, change);
    change.lines.push(this.line(at, "step-done", "info", { step, by: "crew" }));
    await this.write(change);
  }

  private async act(step: StepTaken, at: string, change: Change): Promise<void> {
    const { facts, broadcastId } = this.run;
    if (step === "send") {
      for (const feed of this.dossier.feeds) await this.encoder.start(feed.id);
      this.run.facts = { ...facts, sendingAt: at };
    } else if (step === "watch") this.run.facts = { ...facts, watchedAt: at };
    else if (step === "public") {
      const seen = await this.platform.goPublic(broadcastId ?? "");
      this.run.facts = { ...facts, publicAt: seen.publicAt ?? at };
      this.nowPublic(this.run.facts.publicAt ?? at, change);
    } else if (step === "end") {
      const seen = await this.platform.end(broadcastId ?? "");
      this.run.facts = { ...facts, endedAt: seen.endedAt ?? at };
      this.nowEnded(this.run.facts.endedAt ?? at, change);
    } else {
      for (const feed of this.dossier.feeds) await this.encoder.stop(feed.id);
      this.run.facts = { ...facts, stoppedAt: at };
      change.finished = this.run.facts.endedAt !== null;
    }
  }

  /** Takes sending back before anything is public: the run sheet starts afresh. */
  async unsend(now: Date): Promise<void> {
    if (this.run.facts.publicAt !== null)
      throw new Refusal(
        409,
        "already-public",
        "the broadcast is public; stopping now would leave viewers with a frozen picture",
        "End it on the platform first.",
      );
    if (this.run.facts.sendingAt === null) return;
    for (const feed of this.dossier.feeds) await this.encoder.stop(feed.id);
    this.run.facts = { ...noFacts, configured: true };
    const change = nothing();
    change.lines.push(this.line(now.toISOString(), "note", "info", { text: "sending-stopped-before-public" }));
    await this.write(change);
  }

  private nowPublic(at: string, change: Change): void {
    for (const feed of this.dossier.feeds) {
      const rtts = (this.healths.get(feed.id)?.window ?? []).flatMap((s) => (s.rttMs === null ? [] : [s.rttMs]));
      const rttMs = median(rtts);
      if (rttMs !== null) this.run.lineupRttMs[feed.id] = rttMs;
    }
    change.spans.push({ from: at, role: this.run.failover.active });
  }

  private nowEnded(at: string, change: Change): void {
    if (this.incident) change.incident = { ...this.incident, endedAt: at };
    this.incident = null;
    if (this.run.facts.stoppedAt !== null) change.finished = true;
  }

  /** Writes all of a change or none of it, then tells whoever listens. */
  private async write(change: Change): Promise<void> {
    const eventId = this.dossier.event.id;
    const lines = await this.db.transaction(async (tx) => {
      await insertSamples(tx, change.samples);
      for (const verdict of change.verdicts) await insertVerdict(tx, verdict);
      for (const span of change.spans) await insertSpan(tx, eventId, this.run.destinationId, span.from, span.role);
      if (change.incident) await insertIncident(tx, eventId, change.incident);
      await saveRun(tx, eventId, this.run);
      if (change.finished) await finish(tx, eventId, this.run.facts.stoppedAt ?? this.run.facts.endedAt ?? "");
      return appendLog(tx, eventId, change.lines);
    });
    if (change.samples.length > 0) this.publish({ type: "samples", samples: change.samples });
    if (lines.length > 0) this.publish({ type: "log", lines });
    if (lines.length > 0 || change.incident) this.publish({ type: "changed", what: ["event", "lineup", "air", "wrap"] });
  }

  /** The event on air as the app shows it. */
  now(at: string, standins: boolean): AirNow {
    const { event, sheet, encoder, feeds } = this.dossier;
    return {
      eventId: event.id,
      at,
      running: this.running,
      standins,
      destinationId: this.run.destinationId,
      platformName: sheet.platform.name,
      broadcast: broadcastStateOf(this.run.facts),
      publicAt: this.run.facts.publicAt,
      active: this.run.failover.active,
      feeds: feeds.map((f) => ({
        id: f.id,
        role: f.role,
        uplinkId: f.uplinkId,
        uplinkName: f.uplinkName,
        encoderName: encoder.name,
        targetBps: f.targetBps,
        verdict: this.healths.get(f.id)?.verdict ?? null,
        last: this.lastSamples.get(f.id) ?? null,
      })),
      policy: event.failover,
      incident: this.incident,
    };
  }

  sheetNow(at: string) {
    return runSheet(this.run.destinationId, this.dossier.sheet.lifecycle, this.run.facts, at);
  }
}
