import type { Encoder } from "@ukaza/contract/encoder";
import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import type { Settings } from "@ukaza/contract/settings";
import type { Uplink } from "@ukaza/contract/venue";
import { frameRateHz } from "../media/frameRate";
import { srtLatencyMs } from "../survey/path";

/** Rules of thumb; every one may be argued with, none is measured. */
export const budgetRules = {
  /** Frames that camera and encoder hold before they give one away. */
  framesHeld: 2,
  /** Frames that an encoder looks ahead to share out its bitrate: software does, the others rarely. */
  lookAheadFrames: { software: 10, hardware: 0, "field pack": 0, phone: 0, receiver: 0 } satisfies Record<Encoder["kind"], number>,
  /** What a TCP sender keeps in its buffer on a good line, ms. */
  tcpBufferMs: 500,
  /** A preview's player begins at a keyframe and keeps another in hand. */
  previewKeyframes: 2,
  /** Sending begins before public and ends after it, minutes. */
  leadMinutes: 30,
  tailMinutes: 5,
  /** Share of data that comes on top: restarts, longer applause. */
  dataExtra: 1.1,
  /** Share that a recording's container adds. */
  recordingExtra: 1.05,
  /** A recording that can be cut afterwards, bit/s. */
  recordBps: 25_000_000,
} as const;

/** One part of the delay from lens to viewer, ms. */
export interface DelayPart {
  part:
    | "held frames"
    | "look-ahead"
    | "B-frames"
    | "send buffer"
    | "SRT latency"
    | "half a round trip"
    | "preview player"
    | "platform and player"
    | "added delay";
  ms: number;
}

export interface DelayBudget {
  /** Lens to the crew's own preview; null: the platform has none. */
  toPreview: DelayPart[] | null;
  /** Lens to viewer; null: the sheet says nothing of the platform's own delay. */
  toViewer: DelayPart[] | null;
}

export const delaySumMs = (parts: readonly DelayPart[]): number => parts.reduce((sum, p) => sum + p.ms, 0);

interface DelayInput {
  settings: Settings;
  encoder: Encoder;
  sheet: RuleSheet;
  /** Median of the uplink's tests; null: not measured, then no way is counted. */
  rttMs: number | null;
  lossRatio: number | null;
  /** One of the sheet's latency modes; null: its first. */
  latencyMode: string | null;
  addedDelayS: number;
}

/** Delay in parts. A part of nothing is left out. */
export function delayBudget({ settings: s, encoder, sheet, rttMs, lossRatio, latencyMode, addedDelayS }: DelayInput): DelayBudget {
  const frameMs = 1000 / frameRateHz(s.frameRate);
  const sender: DelayPart =
    s.protocol === "srt"
      ? { part: "SRT latency", ms: srtLatencyMs(rttMs, lossRatio) }
      : { part: "send buffer", ms: budgetRules.tcpBufferMs };
  const toIngest: DelayPart[] = [
    { part: "held frames", ms: budgetRules.framesHeld * frameMs },
    { part: "look-ahead", ms: budgetRules.lookAheadFrames[encoder.kind] * frameMs },
    { part: "B-frames", ms: s.bFrames * frameMs },
    sender,
    // SRT's latency counts from the sender's clock and holds the way within it.
    { part: "half a round trip", ms: s.protocol === "srt" ? 0 : (rttMs ?? 0) / 2 },
  ];
  const some = (parts: DelayPart[]) => parts.filter((p) => p.ms > 0);
  const mode = sheet.latencyModes.find((m) => m.name === latencyMode) ?? sheet.latencyModes[0];
  return {
    toPreview: sheet.lifecycle.preview
      ? some([...toIngest, { part: "preview player", ms: budgetRules.previewKeyframes * s.keyframeS * 1000 }])
      : null,
    toViewer: mode
      ? some([...toIngest, { part: "platform and player", ms: mode.delayS * 1000 }, { part: "added delay", ms: addedDelayS * 1000 }])
      : null,
  };
}

/** Seconds for which a show's feeds are on the line. */
export function plannedS(show: { start: string; end: string }): number {
  const { leadMinutes, tailMinutes } = budgetRules;
  return (Date.parse(show.end) - Date.parse(show.start)) / 1000 + 60 * (leadMinutes + tailMinutes);
}

export interface DataBudget {
  uplinkId: string;
  bytes: number;
  /** What is left of the allowance, bytes; null: there is none. */
  leftBytes: number | null;
  /** In the crew's own currency; null: no price is known. */
  price: number | null;
  over: boolean;
}

const GB = 1e9;

/** Data of the planned time on each metered uplink: Σ load × time × 1.1. `loads`: bit/s at the IP layer by uplink. */
export function dataBudget(
  uplinks: readonly Pick<Uplink, "id" | "metered">[],
  loads: ReadonlyMap<string, number>,
  seconds: number,
): DataBudget[] {
  return uplinks.flatMap(({ id, metered }): DataBudget[] => {
    const loadBps = loads.get(id) ?? 0;
    if (!metered || loadBps === 0) return [];
    const bytes = Math.round((loadBps / 8) * seconds * budgetRules.dataExtra);
    const leftBytes = metered.allowanceGb === null ? null : Math.max(0, (metered.allowanceGb - metered.usedGb) * GB);
    const price = metered.pricePerGb === null ? null : (bytes / GB) * metered.pricePerGb;
    return [{ uplinkId: id, bytes, leftBytes, price, over: leftBytes !== null && bytes > leftBytes }];
  });
}

export interface DiskBudget {
  name: string;
  bytes: number;
  freeBytes: number;
  fits: boolean;
  /** Files that the recording is split into by the file system's limit. */
  files: number;
  /** Seconds until the first split; null: it is not split. */
  splitEveryS: number | null;
}

/** What a recording of the planned time takes on each of the encoder's targets: bitrate × time × 1.05. */
export function diskBudget(encoder: Pick<Encoder, "recordings">, recordBps: number, seconds: number): DiskBudget[] {
  const bytesPerS = (recordBps / 8) * budgetRules.recordingExtra;
  return encoder.recordings.map(({ name, freeBytes, maxFileBytes }) => {
    const bytes = Math.round(bytesPerS * seconds);
    const files = maxFileBytes === null ? 1 : Math.max(1, Math.ceil(bytes / maxFileBytes));
    return {
      name,
      bytes,
      freeBytes,
      fits: bytes <= freeBytes,
      files,
      splitEveryS: files > 1 && maxFileBytes !== null ? maxFileBytes / bytesPerS : null,
    };
  });
}

/** What a service billed by the hour costs for the planned time, in its own currency; null: it costs nothing. */
export const serviceCost = (sheet: Pick<RuleSheet, "pricePerHour">, seconds: number): number | null =>
  sheet.pricePerHour === null ? null : (sheet.pricePerHour * seconds) / 3600;
