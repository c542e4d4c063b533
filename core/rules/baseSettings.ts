import type { Encoder } from "@ukaza/contract/encoder";
import type { Mode, RuleSheet } from "@ukaza/contract/ruleSheet";
import type { Profile, Protocol, Settings } from "@ukaza/contract/settings";

/** The most a sheet without a recommended audio bitrate is asked for. */
const AUDIO_CEILING_BPS = 160_000;
/** B-frames beyond two cost delay and gain little (rule of thumb). */
export const B_FRAMES = 2;

/** Audio bitrate to use, bit/s: the sheet's recommended one, else the highest it allows up to 160 kb/s. */
export const sheetAudioBps = (sheet: RuleSheet): number => sheet.audio.recommendedBps ?? Math.min(sheet.audio.maxBps, AUDIO_CEILING_BPS);

/** A mode at one frame rate as a sheet would have it sent: everything but what an encoder limits is settled. */
export function baseSettings(
  sheet: RuleSheet,
  mode: Mode,
  frameRate: string,
  protocol: Protocol,
  chosen: { profile: Profile; videoBps: number; audioBps: number },
  encoder?: Encoder,
): Settings {
  const shared = sheet.audio.sampleRatesHz.filter((hz) => !encoder || encoder.audioRatesHz.includes(hz));
  return {
    codec: mode.codec,
    profile: chosen.profile,
    width: mode.width,
    height: mode.height,
    frameRate,
    videoBps: chosen.videoBps,
    rateControl: sheet.rateControls.includes("constant") ? "constant" : "capped-variable",
    keyframeS: sheet.keyframe.recommendedS,
    bFrames: chosen.profile === "baseline" ? 0 : Math.min(B_FRAMES, sheet.bFramesMax),
    audioBps: chosen.audioBps,
    audioHz: shared.includes(48_000) ? 48_000 : (shared[0] ?? 48_000),
    audioChannels: Math.min(2, sheet.audio.channelsMax, encoder?.audioChannelsMax ?? 2),
    protocol,
  };
}
