import type { Sample } from "@ukaza/contract/air";
import { groupBy } from "../groupBy";
import { mean } from "../stats";

const numbers = (run: readonly Sample[], pick: (s: Sample) => number | null): number[] =>
  run.map(pick).filter((v): v is number => v !== null);

/** One sample for each feed and span of `stepS` seconds: means of rates and shares, the worst of queue and reconnects. */
export function thinSamples(samples: readonly Sample[], stepS: number): Sample[] {
  const spanOf = (s: Sample) => Math.floor(Date.parse(s.at) / (stepS * 1000)) * stepS * 1000;
  const runs = groupBy(samples, (s) => `${s.feedId}/${spanOf(s)}`);
  return [...runs.values()].flatMap((run) => {
    const [first] = run;
    if (!first) return [];
    const average = (pick: (s: Sample) => number | null) => mean(numbers(run, pick));
    const most = (pick: (s: Sample) => number | null) => numbers(run, pick).reduce<number | null>((top, v) => Math.max(top ?? v, v), null);
    const whole = (value: number | null) => (value === null ? null : Math.round(value));
    return [
      {
        ...first,
        at: new Date(spanOf(first)).toISOString(),
        sentBps: whole(average((s) => s.sentBps)),
        receivedBps: whole(average((s) => s.receivedBps)),
        framesEncoded: average((s) => s.framesEncoded),
        framesDropped: average((s) => s.framesDropped),
        encoderLoad: average((s) => s.encoderLoad),
        queueMs: most((s) => s.queueMs),
        rttMs: average((s) => s.rttMs),
        retransmittedShare: average((s) => s.retransmittedShare),
        reconnects: most((s) => s.reconnects),
        audioDb: average((s) => s.audioDb),
        pictureChange: average((s) => s.pictureChange),
        platform: run.some((s) => s.platform === "refused") ? "refused" : first.platform,
      },
    ];
  });
}
