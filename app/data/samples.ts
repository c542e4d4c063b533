import type { Sample } from "@ukaza/contract/air";

const KEPT = 300;

/** The last five minutes of every feed of one event, outside React so that one second costs one render. */
export class SampleStore {
  private byFeed: Record<string, Sample[]> = {};
  private readonly listeners = new Set<() => void>();

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** The same object until a sample is added. */
  readonly snapshot = (): Record<string, Sample[]> => this.byFeed;

  /** Adds samples in any order; one that is already there changes nothing. */
  add(samples: readonly Sample[]): void {
    const next = { ...this.byFeed };
    for (const sample of samples) {
      const kept = next[sample.feedId] ?? [];
      if (kept.some((s) => s.at === sample.at)) continue;
      next[sample.feedId] = [...kept, sample].sort((a, b) => a.at.localeCompare(b.at)).slice(-KEPT);
    }
    this.byFeed = next;
    for (const listener of this.listeners) listener();
  }
}
