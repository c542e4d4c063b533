import type { LineupFacts, StepId } from "@ukaza/contract/lineup";
import type { Broadcast } from "@ukaza/contract/standins";

/** Facts after looking at the platform once more, and which steps that finished. `at`: now, ISO 8601. */
export function advanceFacts(facts: LineupFacts, seen: Broadcast | null, at: string): { facts: LineupFacts; done: StepId[] } {
  if (!seen || facts.sendingAt === null) return { facts, done: [] };
  const next = { ...facts };
  const done: StepId[] = [];
  const heard = seen.ingests.filter((i) => i.receiving);
  if (next.receivingAt === null && heard.length > 0) {
    next.receivingAt = at;
    done.push("receive");
  }
  // The main ingest speaks first; the backup's word counts only while the main one is not heard.
  const word = heard.find((i) => i.role === "main" && i.verdict !== null) ?? heard.find((i) => i.verdict !== null);
  if (next.receivingAt !== null && word?.verdict) {
    next.verdict = word.verdict;
    next.verdictReason = word.reason;
    if (next.verdictAt === null && word.verdict !== "refused") {
      next.verdictAt = at;
      done.push("verdict");
    }
  }
  if (next.previewAt === null && next.verdictAt !== null && seen.previewReady) {
    next.previewAt = at;
    done.push("preview");
  }
  // The platform is the judge of what is public and what has ended, whoever did it.
  if (next.publicAt === null && seen.publicAt !== null) {
    next.publicAt = seen.publicAt;
    done.push("public");
  }
  if (next.endedAt === null && seen.endedAt !== null) {
    next.endedAt = seen.endedAt;
    done.push("end");
  }
  return { facts: next, done };
}
