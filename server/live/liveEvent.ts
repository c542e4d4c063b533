import type { AirNow, Decision, Incident, LogData, StreamMessage } from "@ukaza/contract/air";
import type { StepId } from "@ukaza/contract/lineup";
import { Refusal } from "@ukaza/contract/problem";
import type { Role } from "@ukaza/contract/rig";
import type { Broadcast } from "@ukaza/contract/standins";
import { type FailoverState, failoverStep, switchByHand } from "@ukaza/core/air/failover";
import { incidentStep } from "@ukaza/core/air/incidents";
import { advanceFacts } from "@ukaza/core/lineup/advance";
import { broadcastStateOf } from "@ukaza/core/lineup/progress";
import { noFacts, runSheet } from "@ukaza/core/lineup/runSheet";
import type { Db } from "../db/open";
import type { Drivers } from "../drivers/drivers";
import { type EventDossier, loadDossier, type Run } from "../events/store";
import { Change } from "./change";
import { Judge } from "./judge";
import { Sides } from "./sides";
import { readIncidents, readSamples, readVerdicts } from "./store";

const RESUME_WINDOW_MS = 30_000;

export type StepTaken = StepId;

/** One event whose encoder sends: it watches, decides, acts through the drivers, and has all of it written down. */
export class LiveEvent {
  private constructor(
    private readonly db: Db,
    private readonly publish: (message: StreamMessage) => void,
    private readonly dossier: EventDossier,
    private readonly sides: Sides,
    private readonly judge: Judge,
    private incident: Incident | null,
  ) {}

  /** Picks an event up from the database exactly where it was. */
  static async load(db: Db, drivers: Drivers, publish: (message: StreamMessage) => void, eventId: string, now: Date): Promise<LiveEvent> {
    const dossier = await loadDossier(db, eventId);
    const samples = await readSamples(db, eventId, new Date(now.getTime() - RESUME_WINDOW_MS).toISOString());
    const judge = new Judge(dossier, await readVerdicts(db, eventId), samples, now.toISOString());
    const open = (await readIncidents(db, eventId)).find((i) => i.endedAt === null) ?? null;
    const sides = new Sides(drivers.encoder(dossier.encoder), drivers.platform(dossier.platformReach), {
      encoder: dossier.encoder.reach.driver !== "none",
      platform: dossier.platformReach.driver !== "none",
    });
    return new LiveEvent(db, publish, dossier, sides, judge, open);
  }

  private get run(): Run {
    return this.dossier.run;
  }

  private get platformByHand(): boolean {
    return this.dossier.platformReach.driver === "none";
  }

  private get broadcastId(): string {
    return this.run.broadcastId ?? "";
  }

  /** The encoder was told to send and not yet to stop. */
  get running(): boolean {
    return this.run.facts.sendingAt !== null && this.run.facts.stoppedAt === null;
  }

  private write(change: Change): Promise<void> {
    return change.write(this.db, this.publish, this.dossier.event.id, this.run);
  }

  /** Says in the log that the server came back, and how long nobody watched. */
  async sayStartedAgain(now: Date): Promise<void> {
    const change = new Change(now.toISOString());
    const since = Date.parse(this.judge.lastLookedAt ?? this.run.facts.sendingAt ?? change.at);
    change.say("server-started-again", "warn", { gapS: Math.round((now.getTime() - since) / 1000) });
    await this.write(change);
  }

  /** One second: look, judge, decide, write, tell. */
  async tick(now: Date): Promise<void> {
    const change = new Change(now.toISOString());
    const seen = await this.sides.look(this.broadcastId, change);
    this.advance(seen.broadcast, change);
    this.adoptSource(seen.broadcast, change);
    this.judge.second(seen, change);
    await this.failover(change);
    await this.write(change);
  }

  private advance(broadcast: Broadcast | null, change: Change): void {
    const { facts, done } = advanceFacts(this.run.facts, broadcast, change.at);
    if (facts.verdict === "refused" && this.run.facts.verdict !== "refused") {
      change.say("step-failed", "alarm", { step: "verdict", reason: facts.verdictReason });
    }
    this.run.facts = facts;
    for (const step of done) {
      change.say("step-done", "info", { step, by: "platform", ...(step === "verdict" ? { verdict: facts.verdict } : {}) });
    }
    if (done.includes("public")) this.nowPublic(facts.publicAt ?? change.at, change);
    if (done.includes("end")) this.nowEnded(facts.endedAt ?? change.at, change);
  }

  /** The platform is the judge of which ingest viewers see; a switch made there, or lost in a crash, is taken over. */
  private adoptSource(broadcast: Broadcast | null, change: Change): void {
    if (!broadcast || broadcast.source === this.run.failover.active || !this.isPublic()) return;
    const { state, decision } = switchByHand(this.run.failover, broadcast.source, 0);
    this.record(state, decision, change, { foundOnPlatform: true });
  }

  private isPublic(): boolean {
    return this.run.facts.publicAt !== null && this.run.facts.endedAt === null;
  }

  private async failover(change: Change): Promise<void> {
    if (!this.isPublic()) return;
    const input = (role: Role) => {
      const verdict = this.judge.verdictOf(role);
      return verdict ? { health: verdict.health, sinceMs: Date.parse(verdict.since) } : null;
    };
    const main = input("main");
    if (!main) return;
    const nowMs = Date.parse(change.at);
    // Where nothing reaches the platform nothing switches by itself: it is advised.
    const policy = { ...this.dossier.event.failover, ...(this.platformByHand ? { auto: false } : {}) };
    const { state, decision } = failoverStep(this.run.failover, { nowMs, main, backup: input("backup") }, policy);
    if (decision?.kind === "switch" && !(await this.tellPlatform(decision.to, change))) return;
    if (decision) this.record(state, decision, change, {});
    else this.run.failover = state;
    // Judged on the feed that viewers have after the decision: a switch ends the incident when it helped.
    const active = this.judge.verdictOf(this.run.failover.active);
    if (!active) return;
    const next = incidentStep(this.incident, active, this.run.destinationId, decision, change.at);
    change.incident = next;
    this.incident = next?.endedAt ? null : next;
  }

  private async tellPlatform(role: Role, change: Change): Promise<boolean> {
    try {
      await this.sides.platform.setSource(this.broadcastId, role);
      return true;
    } catch (error) {
      change.say("step-failed", "alarm", { step: "switch", to: role, reason: (error as Error).message });
      return false;
    }
  }

  private record(state: FailoverState, decision: Decision, change: Change, more: LogData): void {
    this.run.failover = state;
    change.say(decision.kind, decision.kind === "call" ? "alarm" : "warn", { decision, ...more });
    if (decision.kind === "switch") change.spans.push({ from: change.at, role: decision.to });
  }

  private nowPublic(from: string, change: Change): void {
    Object.assign(this.run.lineupRttMs, this.judge.roundTrips());
    change.spans.push({ from, role: this.run.failover.active });
  }

  private nowEnded(at: string, change: Change): void {
    if (this.incident) change.incident = { ...this.incident, endedAt: at };
    this.incident = null;
    change.finished = this.run.facts.stoppedAt !== null;
  }

  /** A switch by the technician's own hand. Asking for the feed that is already shown changes nothing. */
  async switchTo(role: Role, now: Date): Promise<void> {
    if (!this.isPublic())
      throw new Refusal(409, "not-public", "there is nothing to switch: the broadcast is not public", "Switching is for the time on air.");
    if (!this.dossier.feeds.some((f) => f.role === role))
      throw new Refusal(409, "no-such-feed", `this destination has no ${role} feed`, "Choose a fit with a backup feed before the show.");
    if (this.run.failover.active === role) return;
    const change = new Change(now.toISOString());
    const active = this.judge.verdictOf(this.run.failover.active);
    const gapS = active && active.health !== "steady" ? (now.getTime() - Date.parse(active.since)) / 1000 : 0;
    await this.sides.platform.setSource(this.broadcastId, role);
    const { state, decision } = switchByHand(this.run.failover, role, gapS);
    this.record(state, decision, change, {});
    if (this.incident)
      change.incident = this.incident = { ...this.incident, actions: [...this.incident.actions, { at: change.at, decision }] };
    await this.write(change);
  }

  /** Takes a step of the run sheet. One that is done already stays done; one that is locked is refused with what it needs. */
  async take(step: StepTaken, now: Date): Promise<void> {
    const change = new Change(now.toISOString());
    const row = this.sheetNow(change.at).steps.find((s) => s.id === step);
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
    await this.act(step, change);
    change.say("step-done", "info", { step, by: "crew" });
    await this.write(change);
  }

  private async act(step: StepTaken, change: Change): Promise<void> {
    const { facts } = this.run;
    const { at } = change;
    if (step === "send") {
      for (const feed of this.dossier.feeds) await this.sides.encoder.start(feed.id);
      this.run.facts = { ...facts, sendingAt: at };
    } else if (step === "receive") this.run.facts = { ...facts, receivingAt: at };
    else if (step === "verdict") this.run.facts = { ...facts, verdictAt: at, verdict: "good" };
    else if (step === "preview") this.run.facts = { ...facts, previewAt: at };
    else if (step === "watch") this.run.facts = { ...facts, watchedAt: at };
    else if (step === "public") {
      const seen = await this.sides.platform.goPublic(this.broadcastId);
      this.run.facts = { ...facts, publicAt: seen.publicAt ?? at };
      this.nowPublic(this.run.facts.publicAt ?? at, change);
    } else if (step === "end") {
      const seen = await this.sides.platform.end(this.broadcastId);
      this.run.facts = { ...facts, endedAt: seen.endedAt ?? at };
      this.nowEnded(this.run.facts.endedAt ?? at, change);
    } else {
      for (const feed of this.dossier.feeds) await this.sides.encoder.stop(feed.id);
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
    for (const feed of this.dossier.feeds) await this.sides.encoder.stop(feed.id);
    this.run.facts = { ...noFacts, configured: true };
    const change = new Change(now.toISOString());
    change.say("note", "info", { text: "sending-stopped-before-public" });
    await this.write(change);
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
        ...this.judge.seen(f.id),
      })),
      policy: event.failover,
      incident: this.incident,
    };
  }

  sheetNow(at: string) {
    return runSheet(this.run.destinationId, this.dossier.sheet.lifecycle, this.run.facts, at, this.platformByHand);
  }
}
