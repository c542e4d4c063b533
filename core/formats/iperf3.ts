import type { MeasurementInput } from "@ukaza/contract/survey";
import { z } from "zod";
import type { ReadingAnswers } from "./fileReading";

const finite = z.number().min(0);
const sum = z.looseObject({
  bits_per_second: finite,
  seconds: finite.optional(),
  jitter_ms: finite.optional(),
  lost_percent: z.number().optional(),
  omitted: z.boolean().default(false),
});

/** The parts of an `iperf3 -J` file that are read; the rest is left alone. */
const iperf3File = z.looseObject({
  start: z.looseObject({
    timestamp: z.looseObject({ timesecs: z.number().min(0).max(32_503_680_000) }),
    test_start: z.looseObject({
      protocol: z.enum(["TCP", "UDP"]),
      blksize: z.number().int().min(1),
      duration: finite,
      omit: finite.default(0),
      reverse: z.number().default(0),
      target_bitrate: z.number().default(0),
    }),
  }),
  intervals: z
    .array(z.looseObject({ sum: sum.optional(), streams: z.array(z.looseObject({ rtt: finite.optional() })).default([]) }))
    .default([]),
  end: z.looseObject({ sum: sum.optional(), sum_sent: sum.optional(), sum_received: sum.optional() }),
});

export type Iperf3Reading =
  | { measurement: MeasurementInput; remark: string | null }
  | { fault: string }
  | { ask: "clientAt"; example: string };

const MOST_BPS = 10_000_000_000;
const bounded = (bps: number) => Math.min(Math.round(bps), MOST_BPS);

/**
 * Reads one `iperf3 -J` document. The receiver's total counts, over all streams: the sender's also holds what is still
 * in its buffers, and so do its one-second figures. They are kept as a series only where this side received. A run in
 * reverse measured the uplink only if the client stood at the far end, which is asked. A UDP run at a set rate that
 * lost nothing is a floor, not the line's rate. Rates are bit/s of TCP or UDP payload; round trips in ms.
 */
export function readIperf3(text: string, { clientAt }: Pick<ReadingAnswers, "clientAt">): Iperf3Reading {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    return { fault: `this is not whole JSON (${(error as Error).message}); save the test's output again with -J` };
  }
  const failed = z.looseObject({ error: z.string() }).safeParse(json);
  if (failed.success) return { fault: `the test was cut short: "${failed.data.error.slice(0, 120)}"; run it again` };
  const parsed = iperf3File.safeParse(json);
  if (!parsed.success) {
    const issue = parsed.error.issues[0];
    return {
      fault: `this does not read as the output of iperf3 -J: ${issue?.path.join(".") || "the whole"}: ${issue?.message ?? "unknown"}`,
    };
  }
  const { start, intervals, end } = parsed.data;
  const reverse = start.test_start.reverse !== 0;
  if (reverse && !clientAt)
    return { ask: "clientAt", example: `a run with -R at ${new Date(start.timestamp.timesecs * 1000).toISOString()}` };
  if (reverse !== ((clientAt ?? "venue") === "far end"))
    return { fault: `this test measured the download; run it ${reverse ? "without" : "with"} -R` };

  const udp = start.test_start.protocol === "UDP";
  const lostPercent = udp ? (end.sum_received?.lost_percent ?? end.sum?.lost_percent ?? 0) : undefined;
  // Older versions give for UDP only what was sent and the share that was lost.
  const older = udp && end.sum ? { ...end.sum, bits_per_second: end.sum.bits_per_second * (1 - (lostPercent ?? 0) / 100) } : undefined;
  const received = end.sum_received ?? older;
  if (!received || received.bits_per_second < 1) return { fault: "the receiver got nothing, or its total is missing; run the test again" };
  const jitterMs = udp ? (received.jitter_ms ?? end.sum?.jitter_ms) : undefined;
  const roundTrips = intervals.flatMap((i) => i.streams.flatMap((s) => (s.rtt === undefined ? [] : [s.rtt])));
  const rttMs = roundTrips.length === 0 ? undefined : roundTrips.reduce((a, b) => Math.min(a, b)) / 1000;
  const seconds = reverse ? intervals.flatMap((i) => (i.sum && !i.sum.omitted ? [bounded(i.sum.bits_per_second)] : [])) : [];
  const floor = udp && start.test_start.target_bitrate > 0 && lostPercent === 0;
  const measurement: MeasurementInput = {
    takenAt: new Date((start.timestamp.timesecs + start.test_start.omit) * 1000).toISOString(),
    durationS: Math.min(received.seconds ?? start.test_start.duration, 86_400),
    rateBps: bounded(received.bits_per_second),
    layer: udp ? "udp" : "tcp",
    floor,
    source: "iperf3",
    ...(udp ? { udpPayloadBytes: Math.min(start.test_start.blksize, 65_507) } : {}),
    ...(seconds.length > 0 && seconds.length <= 3600 ? { seriesBps: seconds } : {}),
    ...(lostPercent === undefined ? {} : { lossRatio: Math.min(Math.max(lostPercent / 100, 0), 1) }),
    ...(jitterMs === undefined ? {} : { jitterMs: Math.min(jitterMs, 60_000) }),
    ...(rttMs === undefined ? {} : { rttMs: Math.min(rttMs, 60_000) }),
  };
  return { measurement, remark: floor ? "lost nothing at a set rate: the line carries at least this, perhaps more" : null };
}
