import type { Settings } from "@ukaza/contract/settings";
import { frameRateHz } from "./frameRate";
import { AAC_FRAME_SAMPLES } from "./rtmpLoad";

/** MPEG-TS packet and its payload (ISO/IEC 13818-1, 2.4.3). */
const TS_BYTES = 188;
const TS_PAYLOAD = 184;
/** PES header with PTS and DTS (video) and with PTS alone (audio). */
const PES_VIDEO_BYTES = 19;
const PES_AUDIO_BYTES = 14;
/** ADTS header before each AAC frame (ISO/IEC 13818-7). */
const ADTS_BYTES = 7;
/** PAT and PMT, one packet each, every 100 ms. */
const TABLE_PACKETS_PER_S = 20;
/** PCR every 40 ms takes 8 bytes of an adaptation field. */
const PCR_BYTES_PER_S = 8 * 25;
/** Seven TS packets a datagram; headers SRT 16, UDP 8, IPv4 20. */
const PACKETS_PER_DATAGRAM = 7;
const DATAGRAM_HEADERS = 16 + 8 + 20;
/** The sender answers a full acknowledgement every 10 ms with one of 44 bytes at the IP layer. */
export const SRT_ACKNOWLEDGEMENT_BPS = 100 * 44 * 8;

/**
 * Load of an SRT feed carrying MPEG-TS at the IP layer, bit/s.
 * `lossRatio` (0 to below 1): every lost datagram is sent again, and so on: rate·(1 + loss/(1 − loss)).
 */
export function srtLoadBps(s: Settings, lossRatio = 0): number {
  const framesPerS = frameRateHz(s.frameRate);
  const videoPes = s.videoBps / 8 / framesPerS + PES_VIDEO_BYTES + PCR_BYTES_PER_S / framesPerS;
  const videoPackets = framesPerS * Math.ceil(videoPes / TS_PAYLOAD);
  const audioPerS = s.audioBps > 0 ? s.audioHz / AAC_FRAME_SAMPLES : 0;
  const audioPes = audioPerS === 0 ? 0 : s.audioBps / 8 / audioPerS + PES_AUDIO_BYTES + ADTS_BYTES;
  const audioPackets = audioPerS * Math.ceil(audioPes / TS_PAYLOAD);
  const packets = videoPackets + audioPackets + TABLE_PACKETS_PER_S;
  const bytesPerS = packets * TS_BYTES + (packets / PACKETS_PER_DATAGRAM) * DATAGRAM_HEADERS;
  const loss = Math.min(Math.max(lossRatio, 0), 0.9);
  return 8 * bytesPerS * (1 + loss / (1 - loss)) + SRT_ACKNOWLEDGEMENT_BPS;
}
