import type { MeasurementInput } from "@ukaza/contract/survey";
import { z } from "zod";
import type { FileReading } from "./measurementsCsv";

const finite = z.number().min(0);
const sum = z.looseObject({
  bits_per_second: finite,
  seconds: finite.optional(),
  jitter_ms: finite.optional(),
  lost_percent: z.number().optional(),
});

/** The parts of an `iperf3 -J` file that are read; the rest is left alone. */
const iperf3File = z.looseObject({
  start: z.looseObject({
    timestamp: z.looseObject({ timesecs: z.number().min(0).max(32_503_680_000) }),
    test_start: z.looseObject({
      protocol: z.enum(["TCP", "UDP"]),
      blksize: z.number().int().min(1),
      duration: finite,
      reverse: z.number().default(0),
      target_bitrate: z.number().default(0),
    }),
  }),
  intervals: z.array(z.looseObject({ streams: z.array(z.looseObject({ rtt: finite.optional() })).default([]) })).default([]),
  end: z.looseObject({ sum: sum.optional(), sum_sent: sum.optional(), sum_received: sum.optional() }),
});

function refuse(message: string): FileReading {
  return { ok: false, faults: [{ line: null, column: null, message }] };
}

/**
 * Reads one `iperf3 -J` file of an upload. For TCP the receiver's total counts: the sender's also holds what is
 * still in its buffers, and so do its one-second figures, which is why they are not kept as a series.
 * A UDP run at a set rate that lost nothing is a floor, not the line's rate.
 * Rates are bit/s of TCP or UDP payload; round trips in ms (the file has microseconds).
 */
export function readIperf3(text: string): FileReading {
  let json: unknown;
  try {
    json = JSON.parse(text.replace(/^\uFEFF/, ""));
  } catch (error) {
    return refuse(`this is not whole JSON (${(error as Error).message}); save the test's output again with -J`);
  }
  const failed = z.looseObject({ error: z.string() }).safeParse(json);
  if (failed.success) return refuse(`the test was cut short: "${failed.data.error.slice(0, 120)}"; run it again`);
  const parsed = iperf3File.safeParse(json);
  if (!parsed.success) {
    const issue = parsed.error.issues[0];
    return refuse(`this does not read as the output of iperf3 -J: ${issue?.path.join(".") || "the whole"}: ${issue?.message ?? "unknown"}`);
  }
  const { start, intervals, end } = parsed.data;
  if (start.test_start.reverse !== 0) return refuse("this test measured the download; run it without -R");
  const received = end.sum_received;
  if (!received || received.bits_per_second < 1) return refuse("the receiver got nothing, or its total is missing; run the test again");

  const udp = start.test_start.protocol === "UDP";
  const lostPercent = udp ? (received.lost_percent ?? end.sum?.lost_percent ?? 0) : undefined;
  const jitterMs = udp ? (received.jitter_ms ?? end.sum?.jitter_ms) : undefined;
  const roundTrips = intervals.flatMap((i) => i.streams.flatMap((s) => (s.rtt === undefined ? [] : [s.rtt])));
  const rttMs = roundTrips.length === 0 ? undefined : Math.min(...roundTrips) / 1000;
  const measurement: MeasurementInput = {
    takenAt: new Date(start.timestamp.timesecs * 1000).toISOString(),
    durationS: Math.min(received.seconds ?? start.test_start.duration, 86_400),
    rateBps: Math.min(Math.round(received.bits_per_second), 10_000_000_000),
    layer: udp ? "udp" : "tcp",
    floor: udp && start.test_start.target_bitrate > 0 && lostPercent === 0,
    source: "iperf3",
    ...(udp ? { udpPayloadBytes: Math.min(start.test_start.blksize, 65_507) } : {}),
    ...(lostPercent === undefined ? {} : { lossRatio: Math.min(Math.max(lostPercent / 100, 0), 1) }),
    ...(jitterMs === undefined ? {} : { jitterMs: Math.min(jitterMs, 60_000) }),
    ...(rttMs === undefined ? {} : { rttMs: Math.min(rttMs, 60_000) }),
  };
  return { ok: true, measurements: [measurement] };
}
