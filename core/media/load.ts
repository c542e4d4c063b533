import type { Settings } from "@ukaza/contract/settings";
import { rtmpLoadBps } from "./rtmpLoad";
import { srtLoadBps } from "./srtLoad";

export interface Load {
  /** What the uplink carries, bit/s at the IP layer, rounded up. */
  loadBps: number;
  videoBps: number;
  audioBps: number;
  /** Headers and what is sent again: load less video and audio. */
  overheadBps: number;
  /** Overhead as a share of video and audio. */
  overheadShare: number;
}

/** Load of one feed on its uplink (models: RTMP messages in TCP, SRT with MPEG-TS). `lossRatio` counts for SRT only. */
export function feedLoad(s: Settings, lossRatio = 0): Load {
  const loadBps = Math.ceil(s.protocol === "srt" ? srtLoadBps(s, lossRatio) : rtmpLoadBps(s));
  const media = s.videoBps + s.audioBps;
  return {
    loadBps,
    videoBps: s.videoBps,
    audioBps: s.audioBps,
    overheadBps: loadBps - media,
    overheadShare: media > 0 ? (loadBps - media) / media : 0,
  };
}
