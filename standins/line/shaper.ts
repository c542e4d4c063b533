import { TCP_SEGMENT_BYTES } from "@ukaza/core/media/rtmpLoad";

/** What the line lets through now. */
export interface Shape {
  /** bit/s at the IP layer. */
  rateBps: number;
  rttMs: number;
  lossRatio: number;
}

interface Parcel {
  bytes: number;
  deliver: () => void;
}

const TICK_MS = 2;
const ONE_PACKET = 1500;
/** A starved machine is no slow line: what a late timer missed is made up for, as far back as this. */
const LONGEST_SLEEP_MS = 1_500;
/** A line without a parcel for this long was idle and has saved nothing up. */
const IDLE_MS = 30;
/** How much a router holds for one flow before it makes it wait or drops, in time at the present rate. */
const BUFFER_MS = 150;
const LEAST_BUFFER_BYTES = 24_000;

/** Bytes on the line for a piece of a TCP stream, and for a datagram (headers of IPv4). */
export const tcpWireBytes = (payload: number): number => payload + Math.ceil(payload / TCP_SEGMENT_BYTES) * (1500 - TCP_SEGMENT_BYTES);
export const udpWireBytes = (payload: number): number => payload + 28;

/**
 * One direction of a line: parcels of all flows leave in turns, as fast as the rate allows. What has left is on its way
 * for half the round trip, which is the caller's to wait for.
 */
export class Shaper {
  private readonly flows = new Map<string, Parcel[]>();
  private readonly queued = new Map<string, number>();
  private budget = 0;
  private atMs = performance.now();
  private emptySinceMs = performance.now();
  private timer: NodeJS.Timeout | null = null;
  private waiting: { flow: string; go: () => void }[] = [];
  /** Bytes that have left since the line's last second. */
  private left = 0;

  constructor(private readonly shape: () => Shape) {}

  /** Bytes at the IP layer that have left since this was last asked. */
  takeLeft(): number {
    const left = this.left;
    this.left = 0;
    return left;
  }

  private room(): number {
    return Math.max(LEAST_BUFFER_BYTES, (this.shape().rateBps / 8) * (BUFFER_MS / 1000));
  }

  hasRoom(flow: string): boolean {
    return (this.queued.get(flow) ?? 0) < this.room();
  }

  /** Calls `go` once a flow may send again. */
  whenRoom(flow: string, go: () => void): void {
    if (this.hasRoom(flow)) go();
    else this.waiting.push({ flow, go });
  }

  send(flow: string, bytes: number, deliver: () => void): void {
    const queue = this.flows.get(flow);
    if (queue) queue.push({ bytes, deliver });
    else this.flows.set(flow, [{ bytes, deliver }]);
    this.queued.set(flow, (this.queued.get(flow) ?? 0) + bytes);
    if (this.timer) return;
    if (performance.now() - this.emptySinceMs > IDLE_MS && this.waiting.length === 0) this.earn(ONE_PACKET);
    this.work();
  }

  /** Drops what a flow has waiting. */
  forget(flow: string): void {
    this.flows.delete(flow);
    this.queued.delete(flow);
  }

  stop(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    this.flows.clear();
  }

  private readonly work = (): void => {
    this.timer = null;
    this.earn((this.shape().rateBps / 8000) * LONGEST_SLEEP_MS + ONE_PACKET);
    while (this.budget > 0) {
      const [flow, parcels] = this.flows.entries().next().value ?? [];
      if (flow === undefined || !parcels) break;
      // Each has its turn and then stands last, however little a turn of the timer lets through.
      this.flows.delete(flow);
      const parcel = parcels.shift();
      if (!parcel) continue;
      if (parcels.length > 0) this.flows.set(flow, parcels);
      this.budget -= parcel.bytes;
      this.left += parcel.bytes;
      this.queued.set(flow, (this.queued.get(flow) ?? 0) - parcel.bytes);
      parcel.deliver();
    }
    const ready = this.waiting.filter(({ flow }) => this.hasRoom(flow));
    this.waiting = this.waiting.filter((w) => !ready.includes(w));
    for (const { go } of ready) go();
    if (this.flows.size > 0) this.timer = setTimeout(this.work, TICK_MS);
    else this.emptySinceMs = performance.now();
  };

  /** What the time since the last look allows, up to `most`; an idle line saves nothing up beyond one packet. */
  private earn(most: number): void {
    const now = performance.now();
    this.budget = Math.min(this.budget + (this.shape().rateBps / 8000) * (now - this.atMs), most);
    this.atMs = now;
  }
}
