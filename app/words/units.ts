/** A figure with its unit, for a Figure on screen or for a sentence. */
export interface Shown {
  value: string;
  unit: string;
}

/** Bit/s as Mb/s from one million on, else as kb/s (both decimal). */
export function rate(bps: number): Shown {
  if (bps >= 1_000_000) {
    const mbps = bps / 1e6;
    return { value: mbps >= 100 ? mbps.toFixed(0) : mbps.toFixed(1), unit: "Mb/s" };
  }
  return { value: String(Math.round(bps / 1000)), unit: "kb/s" };
}

export const rateText = (bps: number): string => {
  const { value, unit } = rate(bps);
  return `${value} ${unit}`;
};

/** Seconds as h:mm:ss, or m:ss under an hour. */
export function clock(seconds: number): string {
  const whole = Math.max(0, Math.floor(seconds));
  const [h, m, s] = [Math.floor(whole / 3600), Math.floor((whole % 3600) / 60), whole % 60];
  const two = (n: number) => String(n).padStart(2, "0");
  return h > 0 ? `${h}:${two(m)}:${two(s)}` : `${m}:${two(s)}`;
}

/** Minutes since midnight as 19:30; past 24 hours it begins again. */
export function clockText(minutes: number): string {
  const whole = Math.floor(minutes) % 1440;
  const two = (n: number) => String(n).padStart(2, "0");
  return `${two(Math.floor(whole / 60))}:${two(whole % 60)}`;
}

/** Bytes as decimal GB, MB or kB. */
export function dataText(bytes: number): string {
  if (bytes >= 1e9) return `${(bytes / 1e9).toFixed(2)} GB`;
  if (bytes >= 1e6) return `${(bytes / 1e6).toFixed(1)} MB`;
  return `${Math.round(bytes / 1e3)} kB`;
}

export const percent = (share: number, digits = 0): string => `${(share * 100).toFixed(digits)} %`;

/** "25" as "25 frames/s", "30000/1001" as "29.97 frames/s". */
export function frameRateText(rateWords: string): string {
  const [num = "0", den = "1"] = rateWords.split("/");
  const hz = Number(num) / Number(den);
  return `${Number.isInteger(hz) ? hz : hz.toFixed(2)} frames/s`;
}

export const sizeText = (s: { width: number; height: number }): string => `${s.width}×${s.height}`;

/** An instant on the clock of a place. */
export function timeText(instant: string, timeZone: string, withSeconds = false): string {
  return new Intl.DateTimeFormat("en-GB", {
    timeZone,
    hour: "2-digit",
    minute: "2-digit",
    ...(withSeconds ? { second: "2-digit" } : {}),
    hourCycle: "h23",
  }).format(new Date(instant));
}

export function dayText(instant: string, timeZone: string): string {
  return new Intl.DateTimeFormat("en-GB", { timeZone, weekday: "short", day: "numeric", month: "short" }).format(new Date(instant));
}

/** An instant as 2026-06-10 19:30 on the clock of a place, the way it is typed back in. */
export function dayNumberText(instant: string, timeZone: string): string {
  const parts = new Intl.DateTimeFormat("en-CA", { timeZone, year: "numeric", month: "2-digit", day: "2-digit" }).format(new Date(instant));
  return `${parts} ${timeText(instant, timeZone)}`;
}
