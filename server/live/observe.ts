import type { Sample } from "@ukaza/contract/air";
import type { Broadcast, EncoderStatus } from "@ukaza/contract/standins";
import { frameRateHz } from "@ukaza/core/media/frameRate";
import type { NamedFeed } from "../events/store";

/** What both sides said in this second; null where one did not answer. */
export interface Observation {
  encoder: EncoderStatus | null;
  broadcast: Broadcast | null;
}

/** One second of one feed, from what the encoder and the platform said. Nothing is made up: unknown is null. */
export function sampleOf(feed: NamedFeed, seen: Observation, at: string): Sample {
  const sent = seen.encoder?.feeds.find((f) => f.feedId === feed.id) ?? null;
  const ingest = seen.broadcast?.ingests.find((i) => i.role === feed.role) ?? null;
  const refused = sent?.connection === "refused" || ingest?.verdict === "refused";
  const sending = sent?.sending ?? false;
  return {
    feedId: feed.id,
    at,
    targetBps: feed.targetBps,
    // An encoder that says it does not send is not heard from: the feed is silent, not merely slow.
    sentBps: sending && sent ? sent.sentBps : null,
    receivedBps: ingest && (ingest.receiving || sending) ? ingest.receivedBps : null,
    framesEncoded: sending && sent ? sent.framesEncoded : null,
    framesDropped: sending && sent ? sent.framesDropped : null,
    frameRateHz: frameRateHz(feed.settings.frameRate),
    encoderLoad: seen.encoder?.encoderLoad ?? null,
    queueMs: sending && sent ? sent.queueMs : null,
    rttMs: sent?.rttMs ?? null,
    retransmittedShare: sent?.retransmittedShare ?? null,
    reconnects: sent?.reconnects ?? null,
    keyframeS: sending && sent ? sent.keyframeS : null,
    audioDb: sending && sent ? sent.audioDb : null,
    pictureChange: sending && sent ? sent.pictureChange : null,
    platform: refused ? "refused" : (ingest?.verdict ?? null),
  };
}
