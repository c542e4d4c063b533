import type { Score } from "@ukaza/contract/fit";
import type { Codec, Content, Settings, Source } from "@ukaza/contract/settings";
import { frameRateHz, rateFamily } from "../media/frameRate";

/** Rules of thumb: they rank settings against each other and are no measure of how a picture is perceived. */
export const scoreRules = {
  referenceBps: 5_000_000,
  referencePxPerS: 62_208_000,
  pxExponent: 0.75,
  content: { talk: 0.6, stage: 1.0, sport: 1.5 } satisfies Record<Content, number>,
  codec: { h264: 1.0, h265: 0.65, av1: 0.55 } satisfies Record<Codec, number>,
  fidelity: 1.6,
  detailExponent: 0.3,
  motionExponent: { talk: 0.05, stage: 0.15, sport: 0.35 } satisfies Record<Content, number>,
  judder: 0.85,
} as const;

/** Pictures a second that a source holds: an interlaced one gives two fields a frame. */
export function sourceHz(source: Source): number {
  return frameRateHz(source.frameRate) * (source.scan === "interlaced" ? 2 : 1);
}

/** Bitrate (bit/s) at which a picture of this size, rate, content and codec is called good. */
export function referenceBps(s: Pick<Settings, "width" | "height" | "frameRate" | "codec">, content: Content): number {
  const pxPerS = s.width * s.height * frameRateHz(s.frameRate);
  const size = (pxPerS / scoreRules.referencePxPerS) ** scoreRules.pxExponent;
  return scoreRules.referenceBps * size * scoreRules.content[content] * scoreRules.codec[s.codec];
}

/** Whether sending `frameRate` from this source judders: their cadences do not turn into each other. */
export function judders(frameRate: string, source: Source): boolean {
  return rateFamily(frameRate) !== rateFamily(source.frameRate);
}

/** Picture score 0 to 100 and its parts (0 to 1). */
export function pictureScore(
  s: Pick<Settings, "width" | "height" | "frameRate" | "codec" | "videoBps">,
  source: Source,
  content: Content,
): Score {
  const fidelity = 1 - Math.exp((-scoreRules.fidelity * s.videoBps) / referenceBps(s, content));
  const detail = Math.min(1, (s.width * s.height) / (source.width * source.height)) ** scoreRules.detailExponent;
  const kept = Math.min(1, frameRateHz(s.frameRate) / sourceHz(source)) ** scoreRules.motionExponent[content];
  const motion = kept * (judders(s.frameRate, source) ? scoreRules.judder : 1);
  return { q: 100 * fidelity * detail * motion, fidelity, detail, motion };
}
