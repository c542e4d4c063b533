import type { Settings } from "@ukaza/contract/settings";
import { frameRateHz } from "./frameRate";

/** RTMP (chunk stream, section 5.3): the chunk size most senders set. */
export const RTMP_CHUNK_BYTES = 4096;
/** First chunk of a message: basic header 1 byte and message header 7 bytes. Further chunks: 1 byte. */
const FIRST_CHUNK_HEADER = 8;
/** FLV tag bytes before the picture (video) and before the AAC frame (audio). */
const VIDEO_TAG_BYTES = 5;
const AUDIO_TAG_BYTES = 2;
/** Ethernet MTU 1500 less IPv4 20, TCP 20 and timestamps 12 (RFC 7323). */
export const TCP_SEGMENT_BYTES = 1448;
export const TCP_HEADER_BYTES = 52;
/** TLS 1.3 record: 5 header, 1 type and 16 tag bytes (RFC 8446, 5.2). */
const TLS_RECORD_EXTRA = 22;
const TLS_RECORD_BYTES = 16_384;
/** An AAC frame holds 1024 samples (ISO/IEC 14496-3). */
export const AAC_FRAME_SAMPLES = 1024;

function messageBytes(payload: number, tls: boolean): number {
  const chunks = Math.max(1, Math.ceil(payload / RTMP_CHUNK_BYTES));
  const bytes = payload + FIRST_CHUNK_HEADER + (chunks - 1);
  return tls ? bytes + TLS_RECORD_EXTRA * Math.ceil(bytes / TLS_RECORD_BYTES) : bytes;
}

/**
 * Load of an RTMP or RTMPS feed at the IP layer, bit/s.
 * Each picture and each AAC frame is one message, cut into chunks; the byte stream is cut into full TCP segments.
 * RTMPS counts one TLS record a message, more for messages over 16 KiB.
 */
export function rtmpLoadBps(s: Settings): number {
  const tls = s.protocol === "rtmps";
  const framesPerS = frameRateHz(s.frameRate);
  const audioPerS = s.audioBps > 0 ? s.audioHz / AAC_FRAME_SAMPLES : 0;
  const video = framesPerS * messageBytes(s.videoBps / 8 / framesPerS + VIDEO_TAG_BYTES, tls);
  const audio = audioPerS === 0 ? 0 : audioPerS * messageBytes(s.audioBps / 8 / audioPerS + AUDIO_TAG_BYTES, tls);
  const bytesPerS = video + audio;
  return 8 * (bytesPerS + (bytesPerS / TCP_SEGMENT_BYTES) * TCP_HEADER_BYTES);
}
