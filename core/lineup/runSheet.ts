import type { LineupFacts, RunSheet, Step, StepId, StepState } from "@ukaza/contract/lineup";
import type { Lifecycle, Wait } from "@ukaza/contract/ruleSheet";

/** What a step is, before anything has happened. */
interface Plan {
  id: StepId;
  actor: Step["actor"];
  needs: StepId[];
  wait: Wait | null;
  irreversible: boolean;
}

/** The steps of a platform's lifecycle, in the order they are taken. A platform without preview has no such steps. */
export function planSteps(lifecycle: Lifecycle): Plan[] {
  const plain = (id: StepId, actor: Step["actor"], needs: StepId[], wait: Wait | null = null, irreversible = false): Plan => ({
    id,
    actor,
    needs,
    wait,
    irreversible,
  });
  const preview = lifecycle.preview
    ? [plain("preview", "platform", ["verdict"], lifecycle.preview), plain("watch", "person", ["preview"])]
    : [];
  const publicNeeds: StepId[] = lifecycle.preview ? ["watch"] : ["verdict"];
  const end = (needs: StepId[]) => plain("end", "person", needs, null, lifecycle.endIrreversible);
  const stop = (needs: StepId[]) => plain("stop", "encoder", needs);
  return [
    plain("send", "encoder", []),
    plain("receive", "platform", ["send"], lifecycle.receive),
    plain("verdict", "platform", ["receive"], lifecycle.verdict),
    ...preview,
    plain("public", "person", publicNeeds, null, lifecycle.publicIrreversible),
    ...(lifecycle.endsFirst === "platform" ? [end(["public"]), stop(["end"])] : [stop(["public"]), end(["stop"])]),
  ];
}

const doneAt = (facts: LineupFacts): Record<StepId, string | null> => ({
  send: facts.sendingAt,
  receive: facts.receivingAt,
  verdict: facts.verdictAt,
  preview: facts.previewAt,
  watch: facts.watchedAt,
  public: facts.publicAt,
  end: facts.endedAt,
  stop: facts.stoppedAt,
});

/** Steps that the outside takes by itself once their turn has come; the rest are taken by a person. */
const byItself: readonly StepId[] = ["receive", "verdict", "preview"];

/**
 * The run sheet of one destination: every step with its state at `now` (ISO 8601).
 * A step is locked until all it needs are done; one that the platform takes is waiting, then late. `byHand`: nothing
 * reaches the platform.
 */
export function runSheet(destinationId: string, lifecycle: Lifecycle, facts: LineupFacts, now: string, byHand = false): RunSheet {
  // A platform that nothing reaches says nothing: a person looks at its page and takes its steps.
  const itself = byHand ? [] : byItself;
  const done = doneAt(facts);
  const steps = planSteps(lifecycle).map((plan): Step => {
    const missing = plan.needs.filter((need) => done[need] === null);
    const turnCame =
      plan.needs
        .map((need) => done[need])
        .sort()
        .at(-1) ?? null;
    return {
      id: plan.id,
      actor: byHand && plan.actor === "platform" ? "person" : plan.actor,
      needs: plan.needs,
      missing,
      irreversible: plan.irreversible,
      freezes: lifecycle.freezes.filter((f) => f.at === plan.id).flatMap((f) => f.fields),
      typicalS: plan.wait?.typicalS ?? null,
      longestS: plan.wait?.longestS ?? null,
      waitingSince: itself.includes(plan.id) && missing.length === 0 && done[plan.id] === null ? turnCame : null,
      doneAt: done[plan.id],
      state: stateOf(plan, facts, done, missing, turnCame, now, itself),
      reason: plan.id === "verdict" ? facts.verdictReason : null,
    };
  });
  return { destinationId, endsFirst: lifecycle.endsFirst, steps, facts };
}

function stateOf(
  plan: Plan,
  facts: LineupFacts,
  done: Record<StepId, string | null>,
  missing: StepId[],
  turnCame: string | null,
  now: string,
  itself: readonly StepId[],
): StepState {
  if (plan.id === "verdict" && facts.verdict === "refused" && facts.publicAt === null) return "failed";
  if (done[plan.id] !== null) return "done";
  if (missing.length > 0 || (plan.id === "send" && !facts.configured)) return "locked";
  if (!itself.includes(plan.id)) return "ready";
  const waitedS = turnCame === null ? 0 : (Date.parse(now) - Date.parse(turnCame)) / 1000;
  return plan.wait && waitedS > plan.wait.longestS ? "late" : "waiting";
}

export const noFacts: LineupFacts = {
  configured: false,
  sendingAt: null,
  receivingAt: null,
  verdictAt: null,
  verdict: null,
  verdictReason: null,
  previewAt: null,
  watchedAt: null,
  publicAt: null,
  endedAt: null,
  stoppedAt: null,
};
