import type { Credential, Encoder } from "@ukaza/contract/encoder";
import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import type { Protocol, Settings, Source } from "@ukaza/contract/settings";
import { sourceHz } from "../fit/score";
import { frameRateHz } from "../media/frameRate";

/** Why an encoder cannot make a picture. */
export type Lack =
  | "encoder-codec"
  | "encoder-profile"
  | "encoder-size"
  | "encoder-size-list"
  | "encoder-orientation"
  | "encoder-frame-rate"
  | "encoder-keeps-rate"
  | "encoder-luma";

export type Picture = Pick<Settings, "width" | "height" | "frameRate" | "codec" | "profile">;

export const orientationOf = (p: { width: number; height: number }): "portrait" | "landscape" =>
  p.height > p.width ? "portrait" : "landscape";

/** Frame rates, as numbers, that an encoder which converts none gives of this source. */
export function keptRates(encoder: Encoder, source: Source): number[] {
  const whole = frameRateHz(source.frameRate);
  return source.scan === "interlaced" && encoder.deinterlaces ? [whole, sourceHz(source)] : [whole];
}

/** Everything for which an encoder cannot make a picture; empty: it can. Without a source the rate's conversion is not looked at. */
export function lacks(encoder: Encoder, p: Picture, source?: Source): Lack[] {
  const found: Lack[] = [];
  const ability = encoder.codecs.find((c) => c.codec === p.codec);
  if (!ability) found.push("encoder-codec");
  else if (!ability.profiles.includes(p.profile)) found.push("encoder-profile");
  if (!fitsWithin(p, encoder)) found.push("encoder-size");
  else if (encoder.sizes && !encoder.sizes.some((s) => s.width === p.width && s.height === p.height)) found.push("encoder-size-list");
  if (p.width !== p.height && !encoder.orientations.includes(orientationOf(p))) found.push("encoder-orientation");
  const hz = frameRateHz(p.frameRate);
  if (encoder.frameRates && !encoder.frameRates.some((rate) => frameRateHz(rate) === hz)) found.push("encoder-frame-rate");
  else if (source && !encoder.convertsFrameRate && !keptRates(encoder, source).includes(hz)) found.push("encoder-keeps-rate");
  if (p.width * p.height * hz > encoder.maxLumaPerS) found.push("encoder-luma");
  return found;
}

/** The largest picture may be turned where the encoder makes portrait pictures. */
function fitsWithin(p: Picture, { maxWidth, maxHeight, orientations }: Encoder): boolean {
  const upright = p.width <= maxWidth && p.height <= maxHeight;
  return upright || (orientations.includes("portrait") && p.width <= maxHeight && p.height <= maxWidth);
}

/** What a sheet demands over a protocol beside address and key. */
export function demands(sheet: RuleSheet, protocol: Protocol): Credential[] {
  const way = sheet.protocols.find((p) => p.protocol === protocol);
  if (!way) return [];
  return [
    ...(way.login === "required" ? ["login" as const] : []),
    ...(way.streamId !== null ? ["stream id" as const] : []),
    ...(way.passphrase === "required" ? ["passphrase" as const] : []),
    ...(way.userAgent !== null ? ["user agent" as const] : []),
  ];
}

/** Protocols that both sides speak with all that is demanded over them, in the sheet's order. */
export function commonProtocols(sheet: RuleSheet, encoder: Encoder | undefined): Protocol[] {
  const all = sheet.protocols.map((p) => p.protocol);
  if (!encoder) return all;
  const speaks = (p: Protocol) => demands(sheet, p).every((wanted) => encoder.credentials.includes(wanted));
  return all.filter((p) => encoder.protocols.includes(p) && speaks(p));
}
