import type { Incident, LogData, LogLine, Sample } from "@ukaza/contract/air";
import type { ChosenFit, Event } from "@ukaza/contract/event";
import type { StepId } from "@ukaza/contract/lineup";
import type { Role } from "@ukaza/contract/rig";
import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import type { EventRecord } from "@ukaza/contract/wrap";
import { failoverStep, onMain } from "@ukaza/core/air/failover";
import { feedHealthStep, newFeedHealth } from "@ukaza/core/air/feedHealth";
import { incidentStep } from "@ukaza/core/air/incidents";
import { type SendQueue, sendQueueStep } from "@ukaza/core/air/sendQueue";
import { toSampleRow } from "@ukaza/core/formats/sampleRows";
import { noFacts } from "@ukaza/core/lineup/runSheet";
import { frameRateHz } from "@ukaza/core/media/frameRate";
import { feedLoad } from "@ukaza/core/media/load";
import { normal, seeded } from "@ukaza/core/random";
import { type LineModel, lineAtRest, lineStep } from "@ukaza/core/survey/lineModel";
import { localTime } from "@ukaza/core/survey/localTime";

export interface RecordPlan {
  event: Event;
  fit: ChosenFit;
  sheet: RuleSheet;
  models: Record<string, LineModel>;
  seed: number;
  /** Seconds before the show at which sending starts, and after its start at which the show really ends. */
  sendsBeforeS: number;
  endsAfterS: number;
  /** When the main uplink has only `leftBps`, in seconds from the start of the show. */
  trouble: { fromS: number; untilS: number; leftBps: number }[];
}

type Line = EventRecord["log"][number];

/** Runs a whole show second by second through the same models, health and failover that a live event goes through. */
export function makeRecord(plan: RecordPlan): EventRecord {
  const { event, fit, sheet } = plan;
  const random = seeded(plan.seed);
  const startMs = Date.parse(event.show.start);
  const at = (s: number) => new Date(startMs + s * 1000).toISOString();
  const say = (s: number, kind: LogLine["kind"], level: LogLine["level"], data: LogData, role: Role | null = null): Line => ({
    at: at(s),
    kind,
    level,
    data,
    role,
  });
  const sendS = -plan.sendsBeforeS;
  const facts = {
    ...noFacts,
    configured: true,
    sendingAt: at(sendS),
    receivingAt: at(sendS + 2),
    verdictAt: at(sendS + 8),
    verdict: "good" as const,
    previewAt: at(sendS + 27),
    watchedAt: at(sendS + 61),
    publicAt: at(0),
    endedAt: at(plan.endsAfterS),
    stoppedAt: at(plan.endsAfterS + 20),
  };
  const step = (s: number, name: StepId, by: "crew" | "platform") => say(s, "step-done", "info", { step: name, by });
  const log: Line[] = [
    step(sendS, "send", "crew"),
    step(sendS + 2, "receive", "platform"),
    step(sendS + 8, "verdict", "platform"),
    step(sendS + 27, "preview", "platform"),
    step(sendS + 61, "watch", "crew"),
    step(0, "public", "crew"),
  ];
  const { settings } = fit;
  const fps = frameRateHz(settings.frameRate);
  const targetBps = settings.videoBps + settings.audioBps;
  const mediaShare = targetBps / feedLoad(settings).loadBps;
  const feeds = fit.feeds.map((f) => ({
    role: f.role,
    uplinkId: f.uplinkId,
    line: lineAtRest,
    queue: { queuedBits: 0 } as SendQueue,
    health: newFeedHealth(f.role, at(sendS)),
  }));
  const samples: { role: Role; sample: Sample }[] = [];
  const incidents: Incident[] = [];
  let failover = onMain;
  let open: Incident | null = null;

  for (let s = sendS; s <= plan.endsAfterS; s++) {
    const made = targetBps * (1 + 0.02 * normal(random));
    const before = feeds.map((f) => f.health.verdict.health);
    feeds.forEach((feed, i) => {
      const model = plan.models[feed.uplinkId];
      if (!model) throw new Error(`no line model for ${feed.uplinkId}`);
      const next = lineStep(model, feed.line, localTime(startMs + s * 1000, event.timeZone).minuteOfDay, random);
      feed.line = next.state;
      const trouble = feed.role === "main" ? plan.trouble.find((t) => s >= t.fromS && s < t.untilS) : undefined;
      const capacity = trouble ? Math.min(trouble.leftBps, next.second.capacityBps) : next.second.capacityBps;
      const second = sendQueueStep(feed.queue, made, capacity * mediaShare, fps);
      feed.queue = second.queue;
      const full = second.queueMs > 200;
      const sample: Sample = {
        feedId: feed.role,
        at: at(s),
        targetBps,
        sentBps: Math.round(second.sentBits),
        receivedBps: Math.round(second.sentBits * 0.999),
        framesEncoded: fps,
        framesDropped: second.droppedFrames,
        frameRateHz: fps,
        encoderLoad: 0.44 + 0.02 * random(),
        queueMs: second.queueMs,
        rttMs: next.second.rttMs + (full ? 180 : 0),
        retransmittedShare: next.second.lossRatio + (full ? 0.08 : 0),
        reconnects: 0,
        keyframeS: settings.keyframeS,
        audioDb: -24 + 3 * normal(random),
        pictureChange: 0.1 + 0.1 * random(),
        platform: second.sentBits < 0.8 * targetBps ? "poor" : "good",
      };
      samples.push({ role: feed.role, sample });
      const others = before.filter((_, j) => j !== i);
      const next2 = feedHealthStep(
        feed.health,
        sample,
        { lineupRttMs: null, keyframe: sheet.keyframe },
        { sameUplink: [], samePlatformOtherUplink: others },
        at(s),
      );
      if (next2.verdict.health !== feed.health.verdict.health) {
        const { health, cause, evidence } = next2.verdict;
        log.push(
          say(
            s,
            "health",
            health === "steady" ? "info" : health === "strained" ? "warn" : "alarm",
            { from: feed.health.verdict.health, to: health, cause, evidence },
            feed.role,
          ),
        );
      }
      feed.health = next2;
    });
    if (s < 0) continue;
    const verdict = (role: Role) => feeds.find((f) => f.role === role)?.health.verdict;
    const input = (role: Role) => {
      const v = verdict(role);
      return v ? { health: v.health, sinceMs: Date.parse(v.since) } : null;
    };
    const main = input("main");
    if (!main) throw new Error("a record needs a main feed");
    const decided = failoverStep(failover, { nowMs: startMs + s * 1000, main, backup: input("backup") }, event.failover);
    failover = decided.state;
    if (decided.decision) log.push(say(s, decided.decision.kind, "warn", { decision: decided.decision }));
    const active = verdict(failover.active);
    if (active) {
      const next = incidentStep(open, active, fit.destinationId, decided.decision, at(s));
      if (next?.endedAt) incidents.push(next);
      open = next?.endedAt ? null : next;
    }
  }
  log.push(step(plan.endsAfterS, "end", "crew"), step(plan.endsAfterS + 20, "stop", "crew"));
  log.sort((a, b) => a.at.localeCompare(b.at));
  return {
    format: "ukaza-event-record",
    version: 1,
    event,
    fit,
    facts,
    samples: samples.map(({ role, sample }) => toSampleRow(role, sample)),
    log,
    incidents: incidents.map(({ id: _id, ...incident }) => incident),
  };
}
