import type { Codec, Profile, Settings } from "@ukaza/contract/settings";
import { frameRateHz } from "./frameRate";

/** One row of ITU-T H.264 Table A-1. `maxBr` counts units of cpbBrVclFactor bit/s. */
interface LevelRow {
  level: string;
  /** Macroblocks per second. */
  maxMbps: number;
  /** Macroblocks per frame. */
  maxFs: number;
  maxBr: number;
}

const row = (level: string, maxMbps: number, maxFs: number, maxBr: number): LevelRow => ({ level, maxMbps, maxFs, maxBr });

/** ITU-T H.264 Table A-1, without level 1b, which shares its sizes with level 1. */
const h264Levels: readonly LevelRow[] = [
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

/** One row of ITU-T H.265 Tables A.8 and A.9, main tier. `maxBr` counts units of BrVclFactor, 1,000 bit/s for main and main10. */
interface H265Row {
  level: string;
  /** Luma samples per picture. */
  maxLumaPs: number;
  /** Luma samples per second. */
  maxLumaSr: number;
  maxBr: number;
}

const h265 = (level: string, maxLumaPs: number, maxLumaSr: number, maxBr: number): H265Row => ({ level, maxLumaPs, maxLumaSr, maxBr });

/** ITU-T H.265 Tables A.8 and A.9, main tier. */
const h265Levels: readonly H265Row[] = [
  h265("1", 36_864, 552_960, 128),
  h265("2", 122_880, 3_686_400, 1_500),
  h265("2.1", 245_760, 7_372_800, 3_000),
  h265("3", 552_960, 16_588_800, 6_000),
  h265("3.1", 983_040, 33_177_600, 10_000),
  h265("4", 2_228_224, 66_846_720, 12_000),
  h265("4.1", 2_228_224, 133_693_440, 20_000),
  h265("5", 8_912_896, 267_386_880, 25_000),
  h265("5.1", 8_912_896, 534_773_760, 40_000),
  h265("5.2", 8_912_896, 1_069_547_520, 60_000),
  h265("6", 35_651_584, 1_069_547_520, 60_000),
  h265("6.1", 35_651_584, 2_139_095_040, 120_000),
  h265("6.2", 35_651_584, 4_278_190_080, 240_000),
];

/** One row of the AV1 specification's Annex A.3, main tier. `mainMbps` counts 1,000,000 bit/s. */
interface Av1Row {
  level: string;
  /** Luma samples per picture. */
  maxPicSize: number;
  maxWidth: number;
  maxHeight: number;
  /** Luma samples per second shown. */
  maxDisplayRate: number;
  mainMbps: number;
}

const av1 = (level: string, maxPicSize: number, maxWidth: number, maxHeight: number, maxDisplayRate: number, mainMbps: number): Av1Row => ({
  level,
  maxPicSize,
  maxWidth,
  maxHeight,
  maxDisplayRate,
  mainMbps,
});

/** AV1 specification, Annex A.3, main tier and profile. */
const av1Levels: readonly Av1Row[] = [
  av1("2.0", 147_456, 2_048, 1_152, 4_423_680, 1.5),
  av1("2.1", 278_784, 2_816, 1_584, 8_363_520, 3),
  av1("3.0", 665_856, 4_352, 2_448, 19_975_680, 6),
  av1("3.1", 1_065_024, 5_504, 3_096, 31_950_720, 10),
  av1("4.0", 2_359_296, 6_144, 3_456, 70_778_880, 12),
  av1("4.1", 2_359_296, 6_144, 3_456, 141_557_760, 20),
  av1("5.0", 8_912_896, 8_192, 4_352, 267_386_880, 30),
  av1("5.1", 8_912_896, 8_192, 4_352, 534_773_760, 40),
  av1("5.2", 8_912_896, 8_192, 4_352, 1_069_547_520, 60),
  av1("5.3", 8_912_896, 8_192, 4_352, 1_069_547_520, 60),
  av1("6.0", 35_651_584, 16_384, 8_704, 1_069_547_520, 60),
  av1("6.1", 35_651_584, 16_384, 8_704, 2_139_095_040, 100),
  av1("6.2", 35_651_584, 16_384, 8_704, 4_278_190_080, 160),
  av1("6.3", 35_651_584, 16_384, 8_704, 4_278_190_080, 160),
];

/** What a level is computed from. */
export type Levelled = Pick<Settings, "codec" | "profile" | "width" | "height" | "frameRate" | "videoBps">;

/** H.264 A.3.1: frame size, macroblock rate, bitrate, and no side longer than sqrt(8·MaxFS) macroblocks. */
function h264Level(s: Levelled): string | null {
  const across = Math.ceil(s.width / 16);
  const down = Math.ceil(s.height / 16);
  const perFrame = across * down;
  const perSecond = perFrame * frameRateHz(s.frameRate);
  const takes = (r: LevelRow) => {
    const longest = Math.sqrt(8 * r.maxFs);
    const sizeFits = perFrame <= r.maxFs && across <= longest && down <= longest;
    return sizeFits && perSecond <= r.maxMbps + 1e-6 && s.videoBps <= r.maxBr * brFactor[s.profile];
  };
  return h264Levels.find(takes)?.level ?? null;
}

/** H.265 A.4.1 and A.4.2: picture size, sides of at most sqrt(8·MaxLumaPs), luma sample rate, bitrate. */
function h265Level(s: Levelled): string | null {
  const perPicture = s.width * s.height;
  const perSecond = perPicture * frameRateHz(s.frameRate);
  const takes = (r: H265Row) => {
    const longest = Math.sqrt(8 * r.maxLumaPs);
    const sizeFits = perPicture <= r.maxLumaPs && s.width <= longest && s.height <= longest;
    return sizeFits && perSecond <= r.maxLumaSr + 1e-6 && s.videoBps <= r.maxBr * 1_000;
  };
  return h265Levels.find(takes)?.level ?? null;
}

/** AV1 A.3: picture size, width, height, display rate, bitrate. */
function av1Level(s: Levelled): string | null {
  const perPicture = s.width * s.height;
  const perSecond = perPicture * frameRateHz(s.frameRate);
  const takes = (r: Av1Row) => {
    const sizeFits = perPicture <= r.maxPicSize && s.width <= r.maxWidth && s.height <= r.maxHeight;
    return sizeFits && perSecond <= r.maxDisplayRate + 1e-6 && s.videoBps <= r.mainMbps * 1e6;
  };
  return av1Levels.find(takes)?.level ?? null;
}

const byCodec: Record<Codec, (s: Levelled) => string | null> = { h264: h264Level, h265: h265Level, av1: av1Level };

/** The lowest level of the codec's standard that takes size (pixels), frame rate and bitrate (bit/s); null: none does. */
export const codecLevel = (s: Levelled): string | null => byCodec[s.codec](s);

/** Where the levels of a codec stand. */
export const levelClause: Record<Codec, string> = {
  h264: "H.264 Table A-1",
  h265: "H.265 Tables A.8 and A.9",
  av1: "AV1 Annex A.3",
};

/** Order of two levels written as "4" or "4.1": below 0 when `a` is the lower. */
export function compareLevels(a: string, b: string): number {
  return Number(a) - Number(b);
}
