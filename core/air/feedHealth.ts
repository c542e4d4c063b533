import type { Sample, Verdict } from "@ukaza/contract/air";
import { assess, type FeedContext, sentOf, within } from "./assess";
import { causeOf, type Siblings } from "./cause";
import { healthRules as rules } from "./healthRules";
import { type Held, heldFrom, hold } from "./hysteresis";

/** All that is kept of one feed between two seconds. */
export interface FeedHealth {
  feedId: string;
  held: Held;
  window: Sample[];
  verdict: Verdict;
  /** Something has been heard from it at least once. */
  heard: boolean;
}

/** A feed nothing has been heard from yet. */
export function newFeedHealth(feedId: string, at: string): FeedHealth {
  return {
    feedId,
    held: heldFrom("silent", at),
    window: [],
    heard: false,
    verdict: { feedId, health: "silent", since: at, cause: null, evidence: [] },
  };
}

/** A feed's state after a restart: what was held is kept, the window starts with what was stored. */
export function resumeFeedHealth(verdict: Verdict, window: Sample[]): FeedHealth {
  return { feedId: verdict.feedId, held: heldFrom(verdict.health, verdict.since), window, verdict, heard: true };
}

/** One more second of a feed. `at` is now, ISO 8601; the sample may be an empty one when nobody answered. */
export function feedHealthStep(state: FeedHealth, sample: Sample, context: FeedContext, siblings: Siblings, at: string): FeedHealth {
  const nowMs = Date.parse(at);
  const window = within([...state.window, sample], nowMs, rules.longWindowS);
  const raw = assess(window, context, nowMs);
  // The first words from a feed are believed at once: nobody waits ten seconds to hear that it sends.
  const heard = state.heard || sentOf(sample) !== null;
  const held = heard && !state.heard ? heldFrom(raw.health, at) : hold(state.held, raw.health, at);
  const changed = held.health !== state.verdict.health;
  if (held.health === "steady") {
    return {
      ...state,
      held,
      window,
      heard,
      verdict: { feedId: state.feedId, health: "steady", since: held.since, cause: null, evidence: [] },
    };
  }
  // While a worse state is only being held, the evidence that led to it stands.
  if (!changed && raw.health === "steady") return { ...state, held, window, heard };
  const why = causeOf(window, raw.evidence, siblings, nowMs);
  const signs = new Map([...raw.evidence, ...why.evidence].map((e) => [e.sign, e]));
  return {
    ...state,
    held,
    window,
    heard,
    verdict: { feedId: state.feedId, health: held.health, since: held.since, cause: why.cause, evidence: [...signs.values()] },
  };
}
