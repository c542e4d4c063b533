import type { Encoder } from "@ukaza/contract/encoder";
import type { CheckInput } from "@ukaza/contract/findings";
import type { Mode } from "@ukaza/contract/ruleSheet";
import type { Profile, Settings, SettingsPatch, Source } from "@ukaza/contract/settings";
import { judders } from "../fit/score";
import { frameRateHz } from "../media/frameRate";
import { codecLevel, compareLevels } from "../media/levels";
import { feedLoad } from "../media/load";
import { commonProtocols, lacks, type Picture } from "./abilities";
import { modeFor, openMode } from "./modes";

/** Everything that settings are held against. Mends are worked out against all of it at once, so that none undoes another. */
export type Rules = Omit<CheckInput, "settings">;

/** The fields of a patch that really change something; null: it would change nothing. */
export function changeOf(s: Settings, patch: SettingsPatch): SettingsPatch | null {
  const changed = Object.entries(patch).filter(([field, value]) => s[field as keyof Settings] !== value);
  return changed.length === 0 ? null : (Object.fromEntries(changed) as SettingsPatch);
}

/** Pixels that each side must be a multiple of: chroma is halved each way (H.264 6.2), and some encoders want more. */
export const sideMultiple = (encoder: Encoder | undefined): number => encoder?.sizeMultiple ?? 2;

const profileOrder: readonly Profile[] = ["high", "main", "main10", "baseline"];

/** Whether the picture of these settings keeps the camera's shape, within a hundredth. */
export const sameShape = (s: Pick<Settings, "width" | "height">, source: Source): boolean =>
  Math.abs(s.width / s.height - source.width / source.height) <= 0.01;

/** What one mode at one rate is sent as: the profile kept if both sides have it; null: the encoder cannot make it. */
function pictureOf(mode: Mode, frameRate: string, s: Settings, { encoder, source }: Rules): Picture | null {
  const { width, height, codec } = mode;
  const multiple = sideMultiple(encoder);
  if (width % multiple !== 0 || height % multiple !== 0) return null;
  const ability = encoder?.codecs.find((c) => c.codec === codec);
  const common = mode.profiles.filter((p) => !encoder || ability?.profiles.includes(p));
  const profile = common.includes(s.profile) ? s.profile : profileOrder.find((p) => common.includes(p));
  if (!profile) return null;
  const picture = { width, height, codec, frameRate, profile };
  if (encoder && lacks(encoder, picture, source).length > 0) return null;
  const least = Math.max(mode.minBps, encoder?.videoBps.min ?? 0);
  return levelFits({ ...s, ...picture, videoBps: least }, mode.maxLevel, ability?.maxLevel) ? picture : null;
}

function levelFits(s: Settings, ...limits: (string | undefined)[]): boolean {
  const level = codecLevel(s);
  return level !== null && limits.every((limit) => limit === undefined || compareLevels(level, limit) <= 0);
}

/** A judder or bars cost more than any change of size or rate within one codec; another codec costs more than both. */
const PENALTY = { codec: 1_000, judder: 20, shape: 20, larger: 10, profile: 0.1 } as const;

/** How far a picture is from the one asked for. */
function distance(p: Picture, s: Settings, { source }: Rules): number {
  const [own, asked] = [p.width * p.height, s.width * s.height];
  let cost = Math.abs(Math.log(own / asked)) + 1.01 * Math.abs(Math.log(frameRateHz(p.frameRate) / frameRateHz(s.frameRate)));
  cost += Math.abs(Math.log(p.width / p.height / (s.width / s.height)));
  if (p.codec !== s.codec) cost += PENALTY.codec;
  if (own > asked) cost += PENALTY.larger;
  if (p.profile !== s.profile) cost += PENALTY.profile;
  if (source && judders(p.frameRate, source)) cost += PENALTY.judder;
  if (source && !sameShape(p, source)) cost += PENALTY.shape;
  return cost;
}

/** The sheet's modes; where they are suggestions, also the picture asked for, and the camera's own, at every rate in hand. */
function modesOffered(s: Settings, { sheet, source }: Rules): Mode[] {
  if (!sheet.openModes) return sheet.modes;
  const rates = [...new Set([s.frameRate, ...(source ? [source.frameRate] : []), ...sheet.modes.flatMap((m) => m.frameRates)])];
  const sizes = [s, ...(source ? [source] : []), ...sheet.modes];
  return sizes.flatMap(({ width, height }) => rates.map((frameRate) => openMode({ width, height, frameRate, codec: s.codec })));
}

/**
 * The nearest picture that the sheet takes and the encoder makes, without judder and bars where that can be had.
 * null: there is none at all.
 */
export function nearestPicture(s: Settings, rules: Rules): Picture | null {
  let best: { picture: Picture; cost: number } | null = null;
  for (const mode of modesOffered(s, rules)) {
    for (const frameRate of mode.frameRates) {
      const picture = pictureOf(mode, frameRate, s, rules);
      if (!picture) continue;
      const cost = distance(picture, s, rules);
      if (!best || cost < best.cost) best = { picture, cost };
    }
  }
  return best?.picture ?? null;
}

/** A patch to a protocol that both sides speak, the sheet's first; null: they have none in common. */
export function protocolMend(s: Settings, { sheet, encoder }: Rules): SettingsPatch | null {
  const common = commonProtocols(sheet, encoder);
  const protocol = common.includes(s.protocol) ? s.protocol : common[0];
  return protocol === undefined ? null : changeOf(s, { protocol });
}

/** Steps of a bitrate where no encoder says its own, bit/s. */
const STEP_BPS = 100_000;

/** A bitrate within [low, high] on a grid, as near to `asked` as can be; null: no step lies between. */
function onGrid(asked: number, low: number, high: number, step: number): number | null {
  const down = Math.floor(Math.min(asked, high) / step) * step;
  if (down >= low && down <= high) return down;
  const up = Math.ceil(low / step) * step;
  return up <= high ? up : null;
}

/** The highest step of [low, high] for which a test that turns false once, and stays so, holds. */
function highest(low: number, high: number, step: number, holds: (videoBps: number) => boolean): number | null {
  let [from, to] = [Math.ceil(low / step), Math.floor(high / step)];
  if (from > to || !holds(from * step)) return null;
  while (from < to) {
    const middle = Math.ceil((from + to) / 2);
    if (holds(middle * step)) from = middle;
    else to = middle - 1;
  }
  return from * step;
}

/**
 * The video bitrate nearest to the one asked for that sheet, encoder, codec level and line all take, bit/s, on the
 * encoder's steps. `most`: a further limit, such as the recommended rate. Where the line is too thin for any, it is left
 * out of account: that is no matter of the bitrate. null: nothing fits.
 */
export function nearestVideoBps(s: Settings, rules: Rules, most = Number.POSITIVE_INFINITY): number | null {
  const { sheet, encoder, usableBps } = rules;
  const mode = modeFor(sheet, s);
  const step = encoder?.videoBps.step ?? STEP_BPS;
  const low = Math.max(mode?.minBps ?? step, encoder?.videoBps.min ?? 0);
  const top = Math.min(mode?.maxBps ?? s.videoBps, encoder?.videoBps.max ?? Number.POSITIVE_INFINITY, most);
  const ability = encoder?.codecs.find((c) => c.codec === s.codec);
  const high = highest(low, Math.min(top, 1e11), step, (videoBps) => levelFits({ ...s, videoBps }, mode?.maxLevel, ability?.maxLevel));
  if (high === null) return null;
  const carried =
    usableBps === undefined ? high : highest(low, high, step, (videoBps) => feedLoad({ ...s, videoBps }).loadBps <= usableBps);
  return onGrid(s.videoBps, low, carried ?? high, step);
}

/** A patch to a video bitrate; null where there is none, or it changes nothing. */
export const videoMend = (s: Settings, videoBps: number | null): SettingsPatch | null =>
  videoBps === null ? null : changeOf(s, { videoBps });

/** A patch to the audio bitrate nearest to the one asked for that sheet and encoder take; null: they have none in common. */
export function audioMend(s: Settings, { sheet, encoder }: Rules): SettingsPatch | null {
  const high = Math.min(sheet.audio.maxBps, encoder?.audioMaxBps ?? Number.POSITIVE_INFINITY);
  if (sheet.audio.minBps > high) return null;
  return changeOf(s, { audioBps: Math.min(Math.max(s.audioBps, sheet.audio.minBps), high) });
}

/** The value of a list that is nearest to the one asked for. */
const nearest = (values: readonly number[], asked: number): number | undefined =>
  values.reduce<number | undefined>(
    (best, value) => (best === undefined || Math.abs(value - asked) < Math.abs(best - asked) ? value : best),
    undefined,
  );

/** A patch to the nearest sample rate that both sides have; null: they have none in common. */
export function sampleRateMend(s: Settings, { sheet, encoder }: Rules): SettingsPatch | null {
  const audioHz = nearest(
    sheet.audio.sampleRatesHz.filter((hz) => !encoder || encoder.audioRatesHz.includes(hz)),
    s.audioHz,
  );
  return audioHz === undefined ? null : changeOf(s, { audioHz });
}

/** A patch to as many audio channels as both sides take. */
export function channelsMend(s: Settings, { sheet, encoder }: Rules): SettingsPatch | null {
  const most = Math.min(sheet.audio.channelsMax, encoder?.audioChannelsMax ?? s.audioChannels);
  return changeOf(s, { audioChannels: Math.min(s.audioChannels, most) });
}

/** A patch to another picture with what follows from it: protocol is left, the bitrate moves only if it must. */
export function pictureMend(s: Settings, rules: Rules): SettingsPatch | null {
  const picture = nearestPicture(s, rules);
  if (!picture) return null;
  const moved = { ...s, ...picture };
  const mode = modeFor(rules.sheet, moved);
  const inside = mode && s.videoBps >= mode.minBps && s.videoBps <= mode.maxBps;
  const videoBps = inside ? s.videoBps : (nearestVideoBps(moved, rules) ?? s.videoBps);
  return changeOf(s, { ...picture, videoBps });
}

/** A patch to the keyframe interval that is a whole number of frames and in the sheet's range, nearest to the one asked for; null: none. */
export function keyframeMend(s: Settings, { sheet }: Rules): SettingsPatch | null {
  const hz = frameRateHz(s.frameRate);
  const [least, most] = [Math.ceil(sheet.keyframe.minS * hz - 1e-6), Math.floor(sheet.keyframe.maxS * hz + 1e-6)];
  if (most < Math.max(1, least)) return null;
  const frames = Math.min(Math.max(Math.round(s.keyframeS * hz), Math.max(1, least)), most);
  return changeOf(s, { keyframeS: Math.round((frames / hz) * 10_000) / 10_000 });
}
