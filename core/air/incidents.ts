import type { Cause, Decision, EvidenceItem, Incident, Verdict } from "@ukaza/contract/air";
import { compareHealth } from "./hysteresis";

/**
 * Follows the incident of one destination: it opens when a public destination's viewers have no steady feed,
 * keeps the worst that was seen and what was done, and closes when the active feed is steady again.
 */
export function incidentStep(
  open: Incident | null,
  active: Verdict,
  destinationId: string,
  decision: Decision | null,
  at: string,
): Incident | null {
  const action = decision ? [{ at, decision }] : [];
  if (!open) {
    if (active.health === "steady") return null;
    return {
      id: `${destinationId}-${Date.parse(at).toString(36)}`,
      destinationId,
      startedAt: active.since,
      endedAt: null,
      worst: active.health,
      cause: active.cause,
      evidence: active.evidence,
      actions: action,
    };
  }
  const actions = [...open.actions, ...action];
  if (active.health === "steady") return { ...open, actions, endedAt: at };
  const worse = compareHealth(active.health, open.worst) >= 0;
  const cause: Cause | null = worse ? (active.cause ?? open.cause) : open.cause;
  const evidence: EvidenceItem[] = worse && active.evidence.length > 0 ? active.evidence : open.evidence;
  return { ...open, actions, worst: worse ? active.health : open.worst, cause, evidence };
}
