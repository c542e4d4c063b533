import { median } from "../stats";

/**
 * The datagrams of the reflector's protocol. Big-endian: "UKR1", session (8 bytes), number (u32), sent (f64 ms on the
 * sender's clock), received (f64 ms on the reflector's clock), how many of this session have come (u32); then zeros.
 * The answer is the question with the last two filled in, so that it is never longer than what asked for it.
 */
const MAGIC = 0x554b5231;
const HEAD_BYTES = 4 + 8 + 4 + 8 + 8 + 4;

export interface Probe {
  /** 16 hexadecimal digits. */
  session: string;
  number: number;
  sentMs: number;
  receivedMs: number;
  come: number;
}

export function writeProbe(probe: Probe, bytes: number): Uint8Array {
  const out = new Uint8Array(Math.max(bytes, HEAD_BYTES));
  const view = new DataView(out.buffer);
  view.setUint32(0, MAGIC);
  for (let i = 0; i < 8; i++) view.setUint8(4 + i, Number.parseInt(probe.session.slice(i * 2, i * 2 + 2), 16));
  view.setUint32(12, probe.number);
  view.setFloat64(16, probe.sentMs);
  view.setFloat64(24, probe.receivedMs);
  view.setUint32(32, probe.come);
  return out;
}

/** null: not one of ours. */
export function readProbe(bytes: Uint8Array): Probe | null {
  if (bytes.length < HEAD_BYTES) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (view.getUint32(0) !== MAGIC) return null;
  const session = [...bytes.subarray(4, 12)].map((byte) => byte.toString(16).padStart(2, "0")).join("");
  return { session, number: view.getUint32(12), sentMs: view.getFloat64(16), receivedMs: view.getFloat64(24), come: view.getUint32(32) };
}

/** One answer, with when it was back on the sender's clock. */
export interface Echo extends Probe {
  backMs: number;
}

/**
 * Interarrival jitter at the receiver, ms (RFC 3550, 6.4.1): J += (|D| − J)/16 over arrivals in the order of arrival,
 * D the change of transit time. The two clocks need not agree.
 */
export function rfc3550JitterMs(arrivals: readonly { sentMs: number; receivedMs: number }[]): number {
  let jitter = 0;
  for (let i = 1; i < arrivals.length; i++) {
    const [before, now] = [arrivals[i - 1], arrivals[i]];
    if (!before || !now) continue;
    const change = now.receivedMs - before.receivedMs - (now.sentMs - before.sentMs);
    jitter += (Math.abs(change) - jitter) / 16;
  }
  return jitter;
}

export interface ProbeResult {
  /** Median round trip, ms; null: nothing came back. */
  rttMs: number | null;
  jitterMs: number | null;
  /** Share of the datagrams that never reached the reflector; an answer lost on its way back does not count. */
  lossRatio: number;
}

/** What a train of `sent` probes says, from the answers that came back. */
export function probeResult(sent: number, echoes: readonly Echo[]): ProbeResult {
  if (echoes.length === 0) return { rttMs: null, jitterMs: null, lossRatio: 1 };
  const come = echoes.reduce((most, echo) => Math.max(most, echo.come), 0);
  const arrivals = [...echoes].sort((a, b) => a.receivedMs - b.receivedMs);
  return {
    rttMs: median(echoes.map((echo) => echo.backMs - echo.sentMs)),
    jitterMs: rfc3550JitterMs(arrivals),
    lossRatio: Math.min(1, Math.max(0, 1 - come / sent)),
  };
}

/** Bytes that one connection had brought to the reflector by a time on the reflector's clock. */
export interface Report {
  ms: number;
  bytes: number;
}

/** Bytes by a time, between two reports in a straight line. */
function bytesBy(reports: readonly Report[], ms: number): number {
  const after = reports.findIndex((r) => r.ms >= ms);
  if (after < 0) return reports.at(-1)?.bytes ?? 0;
  const [from, to] = [reports[after - 1] ?? { ms: reports[0]?.ms ?? 0, bytes: 0 }, reports[after] as Report];
  return to.ms <= from.ms ? to.bytes : from.bytes + ((to.bytes - from.bytes) * (ms - from.ms)) / (to.ms - from.ms);
}

/** What all connections together brought in each whole second, bit/s, from when the last of them had begun until the first ended. */
export function secondsOf(connections: readonly (readonly Report[])[]): number[] {
  const begun = Math.max(...connections.map((reports) => reports[0]?.ms ?? Number.NaN));
  const ended = Math.min(...connections.map((reports) => reports.at(-1)?.ms ?? Number.NaN));
  const count = Math.floor((ended - begun) / 1000);
  if (!Number.isFinite(count) || count < 1) return [];
  const total = (ms: number) => connections.reduce((sum, reports) => sum + bytesBy(reports, ms), 0);
  return Array.from({ length: count }, (_, i) => Math.round((total(begun + (i + 1) * 1000) - total(begun + i * 1000)) * 8));
}

/** At most this share of a test is thought to be slow start. */
const START_SHARE = 0.4;

/**
 * The seconds after slow start: from the first that reaches nine tenths of the later half's middle, and never the very
 * first (rule of thumb; what the connections' windows still grow in says nothing of the line).
 */
export function afterSlowStart(seconds: readonly number[]): number[] {
  if (seconds.length < 2) return [...seconds];
  const later = median(seconds.slice(Math.floor(seconds.length / 2))) ?? 0;
  const reached = seconds.findIndex((bps, i) => i > 0 && bps >= 0.9 * later);
  const most = Math.max(1, Math.floor(seconds.length * START_SHARE));
  return seconds.slice(Math.min(reached < 0 ? most : reached, most));
}
