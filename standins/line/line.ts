import type { Carried, CarryOrder, Credentials, LineTrouble, LineUplink, MediaSecond } from "@ukaza/contract/standins";
import { type Random, seeded } from "@ukaza/core/random";
import { type LineModel, type LineSecond, type LineState, lineAtRest, lineStep, shareCapacity } from "@ukaza/core/survey/lineModel";
import { localTime } from "@ukaza/core/survey/localTime";
import { type Entry, openEntry } from "./entry";

/** A feed that has asked within this time still takes its share. */
const STILL_ASKING_MS = 1_500;
/** Extra round trip when the line is full: what waits in the router's own buffer. */
const FULL_BUFFER_MS = 180;

/** A busy machine is no broken line: the hand-over waits longer than the second it carries. */
const HAND_OVER_MS = 2_500;

/** Feeds and tests never press one another out altogether. */
const LEAST_SHARE = 0.1;

interface Uplink {
  model: LineModel;
  random: Random;
  state: LineState;
  second: LineSecond;
  trouble: LineTrouble;
  asking: Map<string, { bits: number; atMs: number }>;
  /** What feeds carried and what went through the entry in the last second, bits: each leaves the other the rest. */
  carriedBits: number;
  carrying: number;
  enteredBits: number;
  entry: Entry | null;
}

/** All uplinks of a venue, moved on one second at a time. */
export class Line {
  private readonly uplinks = new Map<string, Uplink>();

  constructor(
    models: Record<string, LineModel>,
    seed: number,
    private readonly timeZone: string,
  ) {
    Object.entries(models).forEach(([id, model], index) => {
      this.uplinks.set(id, {
        model,
        random: seeded(seed + index * 7919),
        state: lineAtRest,
        second: { capacityBps: 0, lossRatio: 0, rttMs: model.rttMs, out: false },
        trouble: { kind: "recover" },
        asking: new Map(),
        carriedBits: 0,
        carrying: 0,
        enteredBits: 0,
        entry: null,
      });
    });
    this.tick(new Date());
  }

  tick(now: Date): void {
    const { minuteOfDay } = localTime(now.getTime(), this.timeZone);
    for (const uplink of this.uplinks.values()) {
      const next = lineStep(uplink.model, uplink.state, minuteOfDay, uplink.random);
      uplink.state = next.state;
      uplink.second = next.second;
      uplink.carriedBits = uplink.carrying;
      uplink.carrying = 0;
      uplink.enteredBits = (uplink.entry?.takeLeft() ?? 0) * 8;
    }
  }

  /** Opens each uplink's way to the reflector: real sockets, shaped to what the line carries. */
  async openEntries(reflector: { host: string; port: number }): Promise<void> {
    for (const uplink of this.uplinks.values())
      uplink.entry = await openEntry(
        reflector,
        () => ({
          rateBps: Math.max(this.capacity(uplink) * LEAST_SHARE, this.capacity(uplink) - uplink.carriedBits),
          rttMs: uplink.second.rttMs,
          lossRatio: uplink.trouble.kind === "cut" ? 1 : uplink.second.lossRatio,
        }),
        uplink.random,
      );
  }

  async close(): Promise<void> {
    await Promise.all([...this.uplinks.values()].map((uplink) => uplink.entry?.close()));
  }

  private capacity(uplink: Uplink): number {
    if (uplink.trouble.kind === "cut") return 0;
    if (uplink.trouble.kind === "sink") return Math.min(uplink.trouble.toBps, uplink.second.capacityBps);
    return uplink.second.capacityBps;
  }

  list(): LineUplink[] {
    return [...this.uplinks.entries()].map(([id, uplink]) => ({
      id,
      capacityBps: this.capacity(uplink),
      rttMs: uplink.second.rttMs,
      lossRatio: uplink.second.lossRatio,
      entry: uplink.entry ? { host: "127.0.0.1", port: uplink.entry.port } : null,
      trouble: uplink.trouble.kind === "recover" ? "none" : uplink.trouble.kind === "cut" ? "cut" : "sunk",
    }));
  }

  setTrouble(id: string, change: LineTrouble): boolean {
    const uplink = this.uplinks.get(id);
    if (uplink) uplink.trouble = change;
    return uplink !== undefined;
  }

  /** Carries what fits of one feed's second and hands it to the ingest. null: no such uplink. */
  async carry(id: string, order: CarryOrder, now: Date): Promise<Carried | null> {
    const uplink = this.uplinks.get(id);
    if (!uplink) return null;
    const nowMs = now.getTime();
    uplink.asking.set(order.feedId, { bits: order.offeredBits, atMs: nowMs });
    for (const [feed, ask] of uplink.asking) if (nowMs - ask.atMs > STILL_ASKING_MS) uplink.asking.delete(feed);
    const feeds = [...uplink.asking.keys()];
    const { lossRatio, rttMs } = uplink.second;
    const shares = shareCapacity(
      Math.max(this.capacity(uplink) * LEAST_SHARE, this.capacity(uplink) - uplink.enteredBits) * (1 - lossRatio),
      [...uplink.asking.values()].map((ask) => ask.bits),
    );
    const carriedBits = shares[feeds.indexOf(order.feedId)] ?? 0;
    uplink.carrying += carriedBits;
    const full = carriedBits < order.offeredBits * 0.999;
    if (carriedBits <= 0) return { carriedBits: 0, rttMs: rttMs + FULL_BUFFER_MS, retransmittedShare: 1, platform: "unreachable" };
    const platform = await handOver(order, { ...order.media, bits: carriedBits * order.mediaShare });
    return {
      carriedBits: platform === "accepted" ? carriedBits : 0,
      rttMs: rttMs + (full ? FULL_BUFFER_MS : 0),
      retransmittedShare: Math.min(1, lossRatio + (full ? 0.08 : 0)),
      platform,
    };
  }
}

/** Gives one second of media to an ingest. The key travels in a header so that it stands in no address. */
async function handOver(order: CarryOrder, media: MediaSecond): Promise<Carried["platform"]> {
  try {
    const answer = await fetch(order.ingestUrl, {
      method: "POST",
      headers: { "content-type": "application/json", "x-stream-key": order.key, ...saidAs(order.credentials) },
      body: JSON.stringify(media),
      signal: AbortSignal.timeout(HAND_OVER_MS),
    });
    await answer.arrayBuffer();
    return answer.ok ? "accepted" : "refused";
  } catch {
    return "unreachable";
  }
}

/** What a sender says beside its key, as headers: it too stands in no address. */
function saidAs({ login, passphrase, streamId, userAgent }: Credentials): Record<string, string> {
  return {
    ...(login ? { authorization: `Basic ${Buffer.from(`${login.user}:${login.password}`).toString("base64")}` } : {}),
    ...(passphrase ? { "x-passphrase": passphrase } : {}),
    ...(streamId ? { "x-stream-id": streamId } : {}),
    ...(userAgent ? { "x-sender": userAgent } : {}),
  };
}
