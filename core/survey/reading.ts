import type { Measurement } from "@ukaza/contract/survey";
import { ownIpBps } from "./ownRate";

/** A measurement with its own rate worked out: what analysis needs of it and no more. */
export interface Reading {
  id: string;
  takenAtMs: number;
  /** bit/s at the IP layer. */
  ownIpBps: number;
  floor: boolean;
  excluded: string | null;
  source: Measurement["source"];
  rttMs: number | null;
  jitterMs: number | null;
  lossRatio: number | null;
}

export function readingOf(m: Omit<Measurement, "uplinkId">): Reading {
  return {
    id: m.id,
    takenAtMs: Date.parse(m.takenAt),
    ownIpBps: Math.round(ownIpBps(m)),
    floor: m.floor,
    excluded: m.excluded ?? null,
    source: m.source,
    rttMs: m.rttMs ?? null,
    jitterMs: m.jitterMs ?? null,
    lossRatio: m.lossRatio ?? null,
  };
}
