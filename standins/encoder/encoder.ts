import type { Encoder } from "@ukaza/contract/encoder";
import { Refusal } from "@ukaza/contract/problem";
import type { Settings } from "@ukaza/contract/settings";
import {
  type Carried,
  type CarryOrder,
  carried,
  type EncoderFeedStatus,
  type EncoderHeld,
  type EncoderStatus,
} from "@ukaza/contract/standins";
import { sendQueueStep } from "@ukaza/core/air/sendQueue";
import { frameRateHz, keyframeFrames } from "@ukaza/core/media/frameRate";
import { feedLoad } from "@ukaza/core/media/load";
import { normal, type Random, seeded } from "@ukaza/core/random";
import { lacks } from "@ukaza/core/rules/abilities";
import type { Store } from "../shared/store";

/** A busy machine is no broken line: the line may take longer than the second it carries. */
const CARRY_MS = 3_000;

export interface EncoderMemory {
  config: EncoderHeld;
  sending: string[];
  /** Who may set it from afar, once its code was approved there; null: nobody. */
  paired: { server: string; token: string } | null;
}

export const freshEncoder = (): EncoderMemory => ({ config: { engine: { settings: null }, feeds: {} }, sending: [], paired: null });

interface Running {
  queuedBits: number;
  status: EncoderFeedStatus;
}

/** What the encoder stand-in holds and does each second. Its bytes leave by the line stand-in alone. */
export class EncoderDevice {
  private readonly running = new Map<string, Running>();
  private readonly random: Random = seeded(20_260);

  constructor(
    private readonly kit: Encoder,
    private readonly memory: Store<EncoderMemory>,
    private readonly lineUrl: string,
  ) {}

  held(): EncoderHeld {
    return this.memory.value.config;
  }

  /** Takes a configuration as a device does: what it cannot do it refuses, the bitrate it rounds to its own step. */
  configure(config: EncoderHeld): EncoderHeld {
    const s = config.engine.settings;
    if (s) this.mustManage(s);
    const count = Object.keys(config.feeds).length;
    if (count > this.kit.maxFeeds)
      throw new Refusal(422, "too-many-feeds", `this encoder sends ${this.kit.maxFeeds} feeds at once, not ${count}`, "Ask it for fewer.");
    const { step } = this.kit.videoBps;
    const settings = s ? { ...s, videoBps: Math.round(s.videoBps / step) * step } : null;
    this.memory.value.config = { engine: { settings }, feeds: config.feeds };
    this.memory.value.sending = this.memory.value.sending.filter((id) => id in config.feeds);
    this.memory.save();
    return this.held();
  }

  private mustManage(s: Settings): void {
    const { kit } = this;
    const unable = lacks(kit, s).length > 0 || s.videoBps > kit.videoBps.max || !kit.protocols.includes(s.protocol);
    if (unable)
      throw new Refusal(
        422,
        "cannot-encode",
        `this encoder cannot make ${s.width}×${s.height} at ${s.frameRate} in ${s.codec} over ${s.protocol}`,
        "Choose settings within its abilities.",
      );
  }

  start(feedId: string): void {
    if (!(feedId in this.held().feeds)) throw new Refusal(404, "no-such-feed", `there is no feed "${feedId}"`, "Configure it first.");
    if (!this.held().engine.settings) throw new Refusal(409, "no-settings", "the engine has no settings", "Configure it first.");
    if (!this.memory.value.sending.includes(feedId)) this.memory.value.sending.push(feedId);
    this.memory.save();
  }

  stop(feedId: string): void {
    this.memory.value.sending = this.memory.value.sending.filter((id) => id !== feedId);
    this.running.delete(feedId);
    this.memory.save();
  }

  status(now: Date): EncoderStatus {
    const s = this.held().engine.settings;
    const busy = s && this.memory.value.sending.length > 0;
    const load = busy ? 0.25 + (0.5 * s.width * s.height * frameRateHz(s.frameRate)) / this.kit.maxLumaPerS : 0.04;
    const feeds = Object.keys(this.held().feeds).map((id) => this.running.get(id)?.status ?? this.idle(id));
    return {
      encoderId: this.kit.id,
      at: now.toISOString(),
      encoderLoad: Math.min(1, Math.max(0, load + 0.01 * normal(this.random))),
      feeds,
    };
  }

  private idle(feedId: string): EncoderFeedStatus {
    return {
      feedId,
      sending: false,
      sentBps: 0,
      framesEncoded: 0,
      framesDropped: 0,
      queueMs: 0,
      rttMs: null,
      retransmittedShare: null,
      reconnects: 0,
      keyframeS: 0,
      audioDb: -90,
      pictureChange: 0,
      connection: "idle",
    };
  }

  /** One second of every feed that sends, side by side. */
  async tick(): Promise<void> {
    const { settings } = this.held().engine;
    if (!settings) return;
    // One engine, one picture: every feed of it carries the same second.
    const madeBits = (settings.videoBps + settings.audioBps) * Math.max(0.85, 1 + 0.02 * normal(this.random));
    const media = { settings, pictureChange: 0.1 + 0.1 * this.random(), audioDb: -24 + 3 * normal(this.random) };
    await Promise.all(this.memory.value.sending.map((id) => this.send(id, settings, madeBits, media)));
  }

  private async send(feedId: string, settings: Settings, madeBits: number, media: CarryOrder["media"]): Promise<void> {
    const feed = this.held().feeds[feedId];
    if (!feed) return;
    const before = this.running.get(feedId);
    const queue = { queuedBits: before?.queuedBits ?? 0 };
    const mediaShare = (settings.videoBps + settings.audioBps) / feedLoad(settings).loadBps;
    const answer = await this.offer(feed.uplinkId, {
      feedId,
      ingestUrl: httpIngest(feed.address),
      key: feed.key,
      credentials: feed.credentials,
      offeredBits: (queue.queuedBits + madeBits) / mediaShare,
      mediaShare,
      media,
    });
    const fps = frameRateHz(settings.frameRate);
    const next = sendQueueStep(queue, madeBits, answer.carriedBits * mediaShare, fps);
    const was = before?.status.connection ?? "idle";
    // Stopped while the line was being asked: the answer belongs to nobody.
    if (!this.memory.value.sending.includes(feedId)) return;
    this.running.set(feedId, {
      queuedBits: next.queue.queuedBits,
      status: {
        feedId,
        sending: true,
        sentBps: Math.round(next.sentBits),
        framesEncoded: fps,
        framesDropped: next.droppedFrames,
        queueMs: next.queueMs,
        rttMs: answer.platform === "unreachable" ? null : answer.rttMs,
        retransmittedShare: answer.retransmittedShare,
        reconnects: (before?.status.reconnects ?? 0) + (was !== "idle" && was !== "accepted" && answer.platform === "accepted" ? 1 : 0),
        keyframeS: keyframeFrames(settings.keyframeS, settings.frameRate) / fps,
        audioDb: media.audioDb,
        pictureChange: media.pictureChange,
        connection: answer.platform,
      },
    });
  }

  private async offer(uplinkId: string, order: CarryOrder): Promise<Carried> {
    try {
      const answer = await fetch(`${this.lineUrl}/v1/uplinks/${uplinkId}/carry`, {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: JSON.stringify(order),
        signal: AbortSignal.timeout(CARRY_MS),
      });
      return carried.parse(await answer.json());
    } catch {
      return { carriedBits: 0, rttMs: 0, retransmittedShare: 0, platform: "unreachable" };
    }
  }
}

/** The stand-ins carry media over HTTP: rtmp://host:port/path is reached at http://host:port/ingest/path. */
export function httpIngest(address: string): string {
  const match = /^(?:rtmps?|srt):\/\/([^/]+)\/(.+)$/.exec(address.trim());
  return match ? `http://${match[1]}/ingest/${match[2]}` : "http://127.0.0.1:9/not-an-address";
}
