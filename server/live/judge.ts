import type { Sample, Verdict } from "@ukaza/contract/air";
import type { Role } from "@ukaza/contract/rig";
import { type FeedHealth, feedHealthStep, newFeedHealth, resumeFeedHealth } from "@ukaza/core/air/feedHealth";
import { groupBy } from "@ukaza/core/groupBy";
import { median } from "@ukaza/core/stats";
import type { EventDossier, NamedFeed } from "../events/store";
import type { Change } from "./change";
import { type Observation, sampleOf } from "./observe";

/** Keeps the health of every feed of an event from second to second. */
export class Judge {
  private readonly healths = new Map<string, FeedHealth>();
  private readonly lastSamples = new Map<string, Sample>();

  /** Starts from what was stored: each feed's last verdict and its last samples. */
  constructor(
    private readonly dossier: EventDossier,
    verdicts: readonly Verdict[],
    samples: readonly Sample[],
    at: string,
  ) {
    const stored = groupBy(samples, (s) => s.feedId);
    for (const feed of dossier.feeds) {
      const window = stored.get(feed.id) ?? [];
      const last = verdicts.findLast((v) => v.feedId === feed.id);
      this.healths.set(feed.id, last ? resumeFeedHealth(last, window) : newFeedHealth(feed.id, at));
      const newest = window.at(-1);
      if (newest) this.lastSamples.set(feed.id, newest);
    }
  }

  /** One second: a sample of each feed, and its verdict into the change where that is another. */
  second(seen: Observation, change: Change): void {
    const before = new Map([...this.healths].map(([id, h]) => [id, h.verdict.health]));
    const healthOf = (f: NamedFeed) => before.get(f.id) ?? "silent";
    for (const feed of this.dossier.feeds) {
      const sample = sampleOf(feed, seen, change.at);
      change.samples.push(sample);
      this.lastSamples.set(feed.id, sample);
      const others = this.dossier.feeds.filter((f) => f.id !== feed.id);
      const siblings = {
        sameUplink: others.filter((f) => f.uplinkId === feed.uplinkId).map(healthOf),
        samePlatformOtherUplink: others.filter((f) => f.uplinkId !== feed.uplinkId).map(healthOf),
      };
      const context = { lineupRttMs: this.dossier.run.lineupRttMs[feed.id] ?? null, keyframe: this.dossier.sheet.keyframe };
      const state = this.healths.get(feed.id) ?? newFeedHealth(feed.id, change.at);
      const next = feedHealthStep(state, sample, context, siblings, change.at);
      this.healths.set(feed.id, next);
      if (next.verdict.health !== state.verdict.health) this.say(feed, state.verdict, next.verdict, change);
    }
  }

  private say(feed: NamedFeed, from: Verdict, to: Verdict, change: Change): void {
    const level = to.health === "steady" ? "info" : to.health === "strained" ? "warn" : "alarm";
    change.verdicts.push(to);
    change.say("health", level, { from: from.health, to: to.health, cause: to.cause, evidence: to.evidence }, feed.id);
  }

  verdictOf(role: Role): Verdict | null {
    const feed = this.dossier.feeds.find((f) => f.role === role);
    return this.healths.get(feed?.id ?? "")?.verdict ?? null;
  }

  /** Verdict and newest sample of a feed. */
  seen(feedId: string): { verdict: Verdict | null; last: Sample | null } {
    return { verdict: this.healths.get(feedId)?.verdict ?? null, last: this.lastSamples.get(feedId) ?? null };
  }

  /** When any feed was last looked at, ISO 8601. */
  get lastLookedAt(): string | null {
    return [...this.lastSamples.values()].at(-1)?.at ?? null;
  }

  /** Median round trip of each feed over the last half minute, ms: what later ones are held against. */
  roundTrips(): Record<string, number> {
    const medians = [...this.healths].map(([id, h]) => [id, median(h.window.flatMap((s) => (s.rttMs === null ? [] : [s.rttMs])))] as const);
    return Object.fromEntries(medians.filter((pair): pair is [string, number] => pair[1] !== null));
  }
}
