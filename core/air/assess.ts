import type { EvidenceItem, Health, Sample } from "@ukaza/contract/air";
import { mean } from "../stats";
import { healthRules as rules } from "./healthRules";

/** What a feed's samples are held against. */
export interface FeedContext {
  /** Median round trip measured at line-up, ms; null until the feed is public. */
  lineupRttMs: number | null;
  /** The sheet's keyframe range in seconds. */
  keyframe: { minS: number; maxS: number } | null;
}

export interface Assessment {
  health: Health;
  evidence: EvidenceItem[];
}

const known = (values: readonly (number | null)[]): number[] => values.filter((v): v is number => v !== null);

/** Samples at most `seconds` old at `nowMs`. */
export function within(samples: readonly Sample[], nowMs: number, seconds: number): Sample[] {
  return samples.filter((s) => nowMs - Date.parse(s.at) < seconds * 1000);
}

/** Sent bit/s as the encoder counts it; where the encoder does not answer, what the platform received. */
export function sentOf(s: Sample): number | null {
  return s.sentBps ?? s.receivedBps;
}

/** Dropped frames as a share of those due, over a window; null when nothing is known. */
export function droppedShare(samples: readonly Sample[]): number | null {
  const counted = samples.filter((s) => s.framesDropped !== null && s.framesEncoded !== null);
  const dropped = counted.reduce((sum, s) => sum + (s.framesDropped ?? 0), 0);
  const due = counted.reduce((sum, s) => sum + Math.max(s.framesEncoded ?? 0, 1), 0);
  return counted.length === 0 ? null : dropped / due;
}

/** Health of one feed at `nowMs` from its samples alone, before hysteresis, with every sign that speaks for it. */
export function assess(samples: readonly Sample[], context: FeedContext, nowMs: number): Assessment {
  const recent = within(samples, nowMs, rules.windowS);
  const heard = recent.filter((s) => sentOf(s) !== null);
  if (heard.length === 0) return { health: "silent", evidence: [{ sign: "not-heard", is: rules.silentAfterS, limit: rules.silentAfterS }] };

  const broken: EvidenceItem[] = [];
  const strained: EvidenceItem[] = [];
  const grade = (sign: EvidenceItem["sign"], is: number | null, strainedAt: number, brokenAt: number, below: boolean) => {
    if (is === null) return;
    const past = (limit: number) => (below ? is < limit : is > limit);
    if (past(brokenAt)) broken.push({ sign, is, limit: brokenAt });
    else if (past(strainedAt)) strained.push({ sign, is, limit: strainedAt });
  };
  const last = heard.at(-1);
  const target = last?.targetBps ?? 0;
  const sent = mean(known(heard.map(sentOf)));
  grade("sent-low", sent === null || target === 0 ? null : sent / target, rules.strained.sentBelow, rules.broken.sentBelow, true);
  grade("dropped", droppedShare(recent), rules.strained.droppedOver, rules.broken.droppedOver, false);
  grade("queue", last?.queueMs ?? null, rules.strained.queueMsOver, rules.broken.queueMsOver, false);
  if (context.lineupRttMs !== null) {
    const limit = context.lineupRttMs * rules.strained.rttTimes;
    grade("round-trip", mean(known(recent.map((s) => s.rttMs))), limit, Number.POSITIVE_INFINITY, false);
  }
  const keyframeS = last?.keyframeS ?? null;
  if (context.keyframe && keyframeS !== null && keyframeS > 0 && (keyframeS < context.keyframe.minS || keyframeS > context.keyframe.maxS)) {
    strained.push({ sign: "keyframe", is: keyframeS, limit: context.keyframe.maxS });
  }
  if (last?.platform === "refused") broken.push({ sign: "refused", is: null, limit: null });
  if (still(samples, nowMs)) broken.push({ sign: "no-picture", is: rules.broken.stillForS, limit: rules.broken.stillForS });

  if (broken.length > 0) return { health: "broken", evidence: [...broken, ...strained] };
  return { health: strained.length > 0 ? "strained" : "steady", evidence: strained };
}

/** No picture change for ten seconds with the sound gone as well. */
function still(samples: readonly Sample[], nowMs: number): boolean {
  const long = within(samples, nowMs, rules.broken.stillForS);
  if (long.length < rules.broken.stillForS - 1) return false;
  return long.every(
    (s) => s.pictureChange !== null && s.pictureChange < rules.stillBelow && s.audioDb !== null && s.audioDb < rules.soundGoneDb,
  );
}
