import type { Encoder } from "@ukaza/contract/encoder";
import type { Mode, RuleSheet } from "@ukaza/contract/ruleSheet";
import type { Profile, Protocol, Settings, Source } from "@ukaza/contract/settings";
import { codecLevel, compareLevels } from "../media/levels";
import { commonProtocols, lacks } from "../rules/abilities";
import { baseSettings, sheetAudioBps } from "../rules/baseSettings";

/** Profiles from the one that gains most of a bitrate to the one that gains least. */
export const profileOrder: readonly Profile[] = ["main10", "high", "main", "baseline"];

/** A mode at one frame rate and protocol with everything but the bitrate settled, and its bitrate grid. */
export interface Candidate {
  base: Settings;
  fromBps: number;
  /** Last step of the grid, and what ends it. */
  toBps: number;
  endedBy: "sheet" | "encoder" | "level";
  stepBps: number;
}

export type Refusal = "size" | "frame rate" | "luma" | "codec" | "level" | "bitrate";

/**
 * Protocols worth trying: RTMPS sends the same over TCP with a record's header more, so wherever RTMP is spoken too it
 * never carries a higher bitrate and never wins a tie.
 */
export const withoutIdle = (spoken: readonly Protocol[]): Protocol[] => spoken.filter((p) => p !== "rtmps" || !spoken.includes("rtmp"));

export const protocolsToTry = (sheet: RuleSheet, encoder: Encoder): Protocol[] => withoutIdle(commonProtocols(sheet, encoder));

const upTo = (value: number, step: number) => Math.floor(value / step) * step;

/** What the encoder makes of one mode at one rate: a candidate, or why not. */
export function candidateOf(
  mode: Mode,
  frameRate: string,
  protocol: Protocol,
  sheet: RuleSheet,
  encoder: Encoder,
  source: Source,
  allowMaximum: boolean,
): Candidate | Refusal {
  const ability = encoder.codecs.find((c) => c.codec === mode.codec);
  const profile = profileOrder.find((p) => mode.profiles.includes(p) && ability?.profiles.includes(p));
  if (!ability || !profile) return "codec";
  const { width, height } = mode;
  if (width % encoder.sizeMultiple !== 0 || height % encoder.sizeMultiple !== 0) return "size";
  const [lack] = lacks(encoder, { width, height, frameRate, codec: mode.codec, profile }, source);
  if (lack) return lack === "encoder-luma" ? "luma" : lack.includes("rate") ? "frame rate" : "size";
  const stepBps = encoder.videoBps.step;
  const fromBps = Math.ceil(Math.max(mode.minBps, encoder.videoBps.min) / stepBps) * stepBps;
  const sheetTop = allowMaximum ? mode.maxBps : (mode.recommendedBps ?? mode.maxBps);
  const top = upTo(Math.min(sheetTop, encoder.videoBps.max), stepBps);
  if (fromBps > top) return "bitrate";
  const audioBps = Math.min(sheetAudioBps(sheet), encoder.audioMaxBps);
  const base = baseSettings(sheet, mode, frameRate, protocol, { profile, videoBps: fromBps, audioBps }, encoder);
  const levelTop = topUnderLevel(base, fromBps, top, stepBps, mode.maxLevel, ability.maxLevel);
  if (levelTop === null) return "level";
  const endedBy = levelTop < top ? "level" : encoder.videoBps.max < sheetTop ? "encoder" : "sheet";
  return { base, fromBps, toBps: levelTop, endedBy, stepBps };
}

/** The highest grid bitrate whose codec level both sides take; null if even the lowest is too much. */
function topUnderLevel(s: Settings, from: number, to: number, step: number, sheetMax: string, encoderMax: string): number | null {
  const takes = (videoBps: number) => {
    const level = codecLevel({ ...s, videoBps });
    return level !== null && compareLevels(level, sheetMax) <= 0 && compareLevels(level, encoderMax) <= 0;
  };
  return lastTrue(from, to, step, takes);
}

/** The last value of a grid for which a test that turns false once, and stays so, holds; null if none. */
export function lastTrue(from: number, to: number, step: number, holds: (value: number) => boolean): number | null {
  if (!holds(from)) return null;
  let low = 0;
  let high = Math.floor((to - from) / step);
  while (low < high) {
    const middle = Math.ceil((low + high) / 2);
    if (holds(from + middle * step)) low = middle;
    else high = middle - 1;
  }
  return from + low * step;
}
