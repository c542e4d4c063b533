import type { Settings } from "@ukaza/contract/settings";
import { feedLoad } from "../media/load";
import { mathisCapBps } from "./path";

/** Round trip and loss of an uplink, as far as they are known. */
export interface PathFigures {
  rttMs?: number | undefined;
  lossRatio?: number | undefined;
}

/** Load of settings on an uplink, bit/s at the IP layer; Infinity where the path itself caps TCP below it. */
export function loadOnPath(path: PathFigures, s: Settings): number {
  const { loadBps } = feedLoad(s, path.lossRatio ?? 0);
  if (s.protocol === "srt" || path.rttMs === undefined || path.lossRatio === undefined) return loadBps;
  const cap = mathisCapBps(path.rttMs, path.lossRatio);
  return cap !== null && cap < loadBps ? Number.POSITIVE_INFINITY : loadBps;
}
