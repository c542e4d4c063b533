/** What the way from this phone to the server carries, by the server's own count. */
export interface PhoneTestResult {
  rateBps: number;
  /** The shortest of several small requests, ms: round trip and a little of the server's work. */
  rttMs: number;
  bytes: number;
}

const ROUND_TRIPS = 12;
const PIECE_BYTES = 1_000_000;
const SIDE_BY_SIDE = 4;
const LASTS_MS = 5_000;

interface Counted {
  bytes: number;
  firstMs: number;
  lastMs: number;
}

/** Bit/s that several uploads brought together: all bytes from the first to the last, by the server's clock. */
export function phoneRate(pieces: readonly Counted[]): number {
  const first = pieces.reduce((least, p) => Math.min(least, p.firstMs), Number.POSITIVE_INFINITY);
  const last = pieces.reduce((most, p) => Math.max(most, p.lastMs), 0);
  const bytes = pieces.reduce((sum, p) => sum + p.bytes, 0);
  return last > first ? Math.round((bytes * 8000) / (last - first)) : 0;
}

/** Sends data to the server for five seconds over four connections. */
export async function runPhoneTest(onProgress: (share: number) => void, signal: AbortSignal): Promise<PhoneTestResult> {
  const trips: number[] = [];
  for (let i = 0; i < ROUND_TRIPS; i++) {
    const sent = performance.now();
    await fetch("/api/phone-test", { cache: "no-store", signal });
    trips.push(performance.now() - sent);
  }
  const piece = new Uint8Array(PIECE_BYTES);
  // Not all alike, so that nothing on the way can squeeze them.
  for (let at = 0; at < PIECE_BYTES; at += 65_536) crypto.getRandomValues(piece.subarray(at, Math.min(at + 65_536, PIECE_BYTES)));
  const begun = performance.now();
  const pieces: Counted[] = [];
  const sendOn = async () => {
    while (performance.now() - begun < LASTS_MS && !signal.aborted) {
      const answer = await fetch("/api/phone-test", {
        method: "POST",
        headers: { "content-type": "application/octet-stream" },
        body: piece,
        signal,
      });
      pieces.push((await answer.json()) as Counted);
      onProgress(Math.min(1, (performance.now() - begun) / LASTS_MS));
    }
  };
  await Promise.all(Array.from({ length: SIDE_BY_SIDE }, sendOn));
  return { rateBps: phoneRate(pieces), rttMs: Math.min(...trips), bytes: pieces.reduce((sum, p) => sum + p.bytes, 0) };
}
