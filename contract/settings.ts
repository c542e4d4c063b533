import { z } from "zod";
import { bps, frameRate, px } from "./units";

export const codec = z.enum(["h264", "h265", "av1"]);
export const profile = z.enum(["baseline", "main", "high", "main10"]);
export const protocol = z.enum(["rtmp", "rtmps", "srt"]);
export const rateControl = z.enum(["constant", "capped-variable"]);

/** What an engine is told. Sizes in pixels, rates in bit/s, `keyframeS` in seconds. */
export const settings = z.strictObject({
  codec,
  profile,
  width: px,
  height: px,
  frameRate,
  videoBps: bps.min(50_000),
  rateControl,
  keyframeS: z.number().min(0.1).max(30),
  bFrames: z.number().int().min(0).max(16),
  audioBps: bps.max(2_000_000),
  audioHz: z.number().int().min(8_000).max(192_000),
  audioChannels: z.number().int().min(1).max(8),
  protocol,
});

/** A change to some of the settings. */
export const settingsPatch = settings.partial();

/** What the camera gives. `frameRate` counts whole frames; an interlaced frame holds two fields. */
export const source = z.strictObject({
  width: px,
  height: px,
  frameRate,
  scan: z.enum(["progressive", "interlaced"]),
});

export const content = z.enum(["talk", "stage", "sport"]);

export type Codec = z.infer<typeof codec>;
export type Profile = z.infer<typeof profile>;
export type Protocol = z.infer<typeof protocol>;
export type Settings = z.infer<typeof settings>;
export type SettingsPatch = z.infer<typeof settingsPatch>;
export type Source = z.infer<typeof source>;
export type Content = z.infer<typeof content>;
