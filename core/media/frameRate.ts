/** A frame rate as an exact fraction: frames per second = num / den. */
export interface Fraction {
  num: number;
  den: number;
}

export type RateFamily = "25" | "30" | "24" | "other";

/** Reads "25", "50" or "30000/1001". Throws RangeError on anything else. */
export function parseFrameRate(text: string): Fraction {
  const match = /^([1-9]\d{0,5})(?:\/([1-9]\d{0,3}))?$/.exec(text);
  if (!match) throw new RangeError(`"${text}" is not a frame rate; write it as 25 or 30000/1001`);
  return { num: Number(match[1]), den: match[2] === undefined ? 1 : Number(match[2]) };
}

/** Frames per second as a number. */
export function frameRateHz(text: string): number {
  const { num, den } = parseFrameRate(text);
  return num / den;
}

/**
 * The cadence a rate belongs to: 25 and 50; 24 and 23.976; 29.97, 30, 59.94, 60 (and their halves and quarters).
 * Rates of one family turn into each other by whole repeats, or by a change of 0.1 % that nobody sees.
 */
export function rateFamily(text: string): RateFamily {
  const hz = frameRateHz(text);
  const near = (rate: number) => Math.abs(hz - rate) / rate < 0.0011;
  if ([12.5, 25, 50, 100].some(near)) return "25";
  if ([15, 30, 60, 120].some(near)) return "30";
  if ([12, 24, 48].some(near)) return "24";
  return "other";
}

/** Frames between keyframes for an interval in seconds, rounded to whole frames. */
export function keyframeFrames(keyframeS: number, rate: string): number {
  return Math.max(1, Math.round(keyframeS * frameRateHz(rate)));
}

/** Fractions as people write them. */
const shortRates: Record<string, string> = { "24000/1001": "23.976", "30000/1001": "29.97", "60000/1001": "59.94" };
const exactRates: Record<string, string> = {
  ...Object.fromEntries(Object.entries(shortRates).map(([exact, short]) => [short, exact])),
  "23.98": "24000/1001",
};

/** "30000/1001" as "29.97"; a whole rate as it is. */
export const shortRate = (rate: string): string => shortRates[rate] ?? rate;

/** "29.97" or "29,97" as "30000/1001"; anything else as it is. */
export const exactRate = (written: string): string => exactRates[written.trim().replace(",", ".")] ?? written.trim();
