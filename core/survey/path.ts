import type { PathVerdict } from "@ukaza/contract/survey";
import { TCP_SEGMENT_BYTES } from "../media/rtmpLoad";
import { median, quantile } from "../stats";
import type { Reading } from "./reading";

/**
 * The most one TCP connection carries on a path, bit/s (Mathis and others, 1997):
 * (MSS·8/RTT)·√(3/2)/√p. No loss: null, the formula sets no limit.
 */
export function mathisCapBps(rttMs: number, lossRatio: number): number | null {
  if (lossRatio <= 0 || rttMs <= 0) return null;
  return ((TCP_SEGMENT_BYTES * 8) / (rttMs / 1000)) * (Math.sqrt(1.5) / Math.sqrt(lossRatio));
}

/**
 * The SRT latency to set, ms: at least 120 and four round trips; above 1 % loss another round trip for each
 * further power of ten that a packet may be lost again (rule of thumb).
 */
export function srtLatencyMs(rttMs: number | null, lossRatio: number | null): number {
  const rtt = rttMs ?? 0;
  const base = Math.max(120, 4 * rtt);
  const loss = lossRatio ?? 0;
  if (loss <= 0.01) return Math.ceil(base);
  return Math.ceil(base + rtt * (1 + Math.log10(loss / 0.01) * 2));
}

/** Loss over which TCP is thought to suffer whatever the round trip (rule of thumb). */
const LOSSY = 0.005;

/**
 * What the round trip and loss of an uplink say about protocols. Takes the median round trip and the loss that
 * nine of ten tests stay under. `neededBps`: what a feed would want; TCP is out where its cap is below that.
 */
export function pathVerdict(readings: readonly Pick<Reading, "rttMs" | "lossRatio" | "excluded">[], neededBps: number): PathVerdict {
  const trips: number[] = [];
  const losses: number[] = [];
  for (const r of readings) {
    if (r.excluded !== null) continue;
    if (r.rttMs !== null) trips.push(r.rttMs);
    if (r.lossRatio !== null) losses.push(r.lossRatio);
  }
  const rttMs = median(trips);
  const lossRatio = quantile(losses, 0.9);
  const cap = rttMs !== null && lossRatio !== null ? mathisCapBps(rttMs, lossRatio) : null;
  const capped = cap !== null && cap < neededBps;
  const lossy = lossRatio !== null && lossRatio > LOSSY;
  const unmeasured = rttMs === null || lossRatio === null;
  return {
    rttMs,
    lossRatio,
    rtmpCapBps: cap === null ? null : Math.floor(Math.min(cap, 10_000_000_000)),
    srtLatencyMs: srtLatencyMs(rttMs, lossRatio),
    srtExtraShare: lossRatio === null ? 0 : lossRatio / (1 - Math.min(lossRatio, 0.9)),
    favours: capped || lossy ? "srt" : unmeasured ? "either" : "rtmp",
    why: capped ? "tcp-capped" : lossy ? "lossy" : unmeasured ? "unmeasured" : "clean",
  };
}
