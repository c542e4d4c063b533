import { frameRateText, sizeText } from "./units";

const codecTail = { h264: "", h265: ", H.265", av1: ", AV1" } as const;

/** "1920×1080, 25 frames/s"; a codec other than the usual one is said. */
export const planTitle = (p: { width: number; height: number; frameRate: string; codec?: keyof typeof codecTail }): string =>
  `${sizeText(p)}, ${frameRateText(p.frameRate)}${codecTail[p.codec ?? "h264"]}`;
