import type { Profile } from "@ukaza/contract/settings";
import { frameRateHz } from "./frameRate";

/** One row of ITU-T H.264 Table A-1. `maxBr` counts units of cpbBrVclFactor bit/s. */
export interface LevelRow {
  level: string;
  /** Macroblocks per second. */
  maxMbps: number;
  /** Macroblocks per frame. */
  maxFs: number;
  maxBr: number;
}

const row = (level: string, maxMbps: number, maxFs: number, maxBr: number): LevelRow => ({ level, maxMbps, maxFs, maxBr });

/** ITU-T H.264 Table A-1, without level 1b, which shares its sizes with level 1. */
export const h264Levels: readonly LevelRow[] = [
  row("1", 1_485, 99, 64),
  row("1.1", 3_000, 396, 192),
  row("1.2", 6_000, 396, 384),
  row("1.3", 11_880, 396, 768),
  row("2", 11_880, 396, 2_000),
  row("2.1", 19_800, 792, 4_000),
  row("2.2", 20_250, 1_620, 4_000),
  row("3", 40_500, 1_620, 10_000),
  row("3.1", 108_000, 3_600, 14_000),
  row("3.2", 216_000, 5_120, 20_000),
  row("4", 245_760, 8_192, 20_000),
  row("4.1", 245_760, 8_192, 50_000),
  row("4.2", 522_240, 8_704, 50_000),
  row("5", 589_824, 22_080, 135_000),
  row("5.1", 983_040, 36_864, 240_000),
  row("5.2", 2_073_600, 36_864, 240_000),
  row("6", 4_177_920, 139_264, 240_000),
  row("6.1", 8_355_840, 139_264, 480_000),
  row("6.2", 16_711_680, 139_264, 800_000),
];

/** cpbBrVclFactor by profile (H.264 Table A-2): bit/s per unit of MaxBR. */
const brFactor: Record<Profile, number> = { baseline: 1_000, main: 1_000, high: 1_250, main10: 1_250 };

/**
 * The lowest H.264 level that takes a size (pixels), a frame rate and a bitrate (bit/s).
 * Follows H.264 A.3.1: frame size, macroblock rate, bitrate, and no side longer than sqrt(8·MaxFS) macroblocks.
 * null: no level takes it.
 */
export function h264Level(width: number, height: number, frameRate: string, videoBps: number, profile: Profile): string | null {
  const across = Math.ceil(width / 16);
  const down = Math.ceil(height / 16);
  const perFrame = across * down;
  const perSecond = perFrame * frameRateHz(frameRate);
  const found = h264Levels.find((r) => {
    const longest = Math.sqrt(8 * r.maxFs);
    return (
      perFrame <= r.maxFs &&
      across <= longest &&
      down <= longest &&
      perSecond <= r.maxMbps + 1e-6 &&
      videoBps <= r.maxBr * brFactor[profile]
    );
  });
  return found?.level ?? null;
}

/** Order of two levels written as "4" or "4.1": below 0 when `a` is the lower. */
export function compareLevels(a: string, b: string): number {
  return Number(a) - Number(b);
}
