import type { Decision, Health } from "@ukaza/contract/air";
import type { FailoverPolicy } from "@ukaza/contract/event";
import type { Role } from "@ukaza/contract/rig";
import { compareHealth } from "./hysteresis";

/** What failover remembers of one destination. Instants are ms since the epoch. */
export interface FailoverState {
  active: Role;
  /** Automatic switches, oldest first. */
  autoSwitchesMs: number[];
  /** The last thing said to the technician, so that it is said once. */
  said: string | null;
}

export interface FailoverInput {
  nowMs: number;
  main: { health: Health; sinceMs: number };
  /** null: no backup feed. */
  backup: { health: Health; sinceMs: number } | null;
}

export const onMain: FailoverState = { active: "main", autoSwitchesMs: [], said: null };

const bad = (h: Health) => h === "broken" || h === "silent";

/**
 * One second of failover. Switches when the active feed has been broken or silent for `brokenForS` and the other
 * is steady and better; returns to main only after it has been steady `steadyForS`, by itself only if the policy
 * says so. At most `maxSwitches` automatic switches in `withinS`; then it stays and calls the technician.
 */
export function failoverStep(
  state: FailoverState,
  input: FailoverInput,
  policy: FailoverPolicy,
): { state: FailoverState; decision: Decision | null } {
  const { nowMs, main, backup } = input;
  const kept = { ...state, autoSwitchesMs: state.autoSwitchesMs.filter((at) => nowMs - at < policy.withinS * 1000) };
  const active = state.active === "main" ? main : backup;
  const otherRole: Role = state.active === "main" ? "backup" : "main";
  const other = state.active === "main" ? backup : main;
  const gapS = active && bad(active.health) ? (nowMs - active.sinceMs) / 1000 : 0;

  const once = (decision: Decision, key: string) =>
    kept.said === key ? { state: kept, decision: null } : { state: { ...kept, said: key }, decision };
  const decide = (kind: Decision["kind"], reason: Decision["reason"]): Decision => ({
    kind,
    from: state.active,
    to: kind === "switch" || kind === "advise" ? otherRole : state.active,
    reason,
    gapS,
  });
  const change = (reason: Decision["reason"]) => ({
    state: { active: otherRole, autoSwitchesMs: [...kept.autoSwitchesMs, nowMs], said: null },
    decision: decide("switch", reason),
  });
  const mayChange = kept.autoSwitchesMs.length < policy.maxSwitches;

  if (!active || (bad(active.health) && gapS >= policy.brokenForS)) {
    const why = state.active === "main" ? "main-broken" : "backup-broken";
    const better = other !== null && other.health === "steady" && (!active || compareHealth(other.health, active.health) < 0);
    if (!better) return once(decide("call", "no-better-feed"), "no-better-feed");
    if (!policy.auto) return once(decide("advise", why), why);
    return mayChange ? change(why) : once(decide("call", "limit-reached"), "limit-reached");
  }
  const mainSteadyS = main.health === "steady" ? (nowMs - main.sinceMs) / 1000 : 0;
  if (state.active === "backup" && mainSteadyS >= policy.steadyForS) {
    if (policy.auto && policy.returnAuto)
      return mayChange ? change("main-steady-again") : once(decide("call", "limit-reached"), "limit-reached");
    return once(decide("advise", "return-by-hand"), "return-by-hand");
  }
  // The active feed is well again: the next trouble is a new one and is spoken of afresh.
  const said = active.health === "steady" && kept.said !== "return-by-hand" ? null : kept.said;
  return { state: { ...kept, said }, decision: null };
}

/** A switch by the technician's own hand: always obeyed, never counted against the automatic ones. */
export function switchByHand(state: FailoverState, to: Role, gapS: number): { state: FailoverState; decision: Decision } {
  return { state: { ...state, active: to, said: null }, decision: { kind: "switch", from: state.active, to, reason: "by-hand", gapS } };
}
