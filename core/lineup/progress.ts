import type { BroadcastState, Stage, StageState } from "@ukaza/contract/event";
import type { LineupFacts } from "@ukaza/contract/lineup";

export const stageOrder: readonly Stage[] = ["survey", "fit", "rig", "lineup", "air", "wrap"];

export interface ProgressInput {
  measured: boolean;
  fitChosen: boolean;
  broadcastCreated: boolean;
  readBackEqual: boolean | null;
  facts: LineupFacts;
  incidentOpen: boolean;
}

/** The state of each stage of an event, and the stage that comes next. */
export function stagesOf(p: ProgressInput): { stages: Record<Stage, StageState>; next: Stage } {
  const { facts } = p;
  const isPublic = facts.publicAt !== null;
  const ended = facts.endedAt !== null;
  const stages: Record<Stage, StageState> = {
    survey: p.measured ? "done" : "needs you",
    fit: p.fitChosen ? "done" : "not begun",
    rig: p.readBackEqual === true ? "done" : p.readBackEqual === false ? "needs you" : p.broadcastCreated ? "under way" : "not begun",
    lineup: isPublic ? "done" : facts.verdict === "refused" ? "needs you" : facts.sendingAt ? "under way" : "not begun",
    air: ended ? "done" : p.incidentOpen ? "needs you" : isPublic ? "under way" : "not begun",
    wrap: ended && facts.stoppedAt !== null ? "done" : ended || facts.stoppedAt !== null ? "under way" : "not begun",
  };
  return { stages, next: stageOrder.find((stage) => stages[stage] !== "done" && !(stage === "air" && facts.stoppedAt !== null)) ?? "wrap" };
}

/** off, sending, public or ended: what viewers and crew call a destination's state. */
export function broadcastStateOf(facts: LineupFacts): BroadcastState {
  if (facts.endedAt !== null) return "ended";
  if (facts.publicAt !== null) return "public";
  return facts.sendingAt !== null && facts.stoppedAt === null ? "sending" : "off";
}
