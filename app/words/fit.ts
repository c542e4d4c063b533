import type { FitAnswer, Limit, Plan } from "@ukaza/contract/fit";
import { frameRateText, rateText, sizeText } from "./units";

/** What ends a plan's bitrate. */
export const limitSentence: Record<Limit, string> = {
  uplink: "The line ends the bitrate here.",
  "backup-uplink": "The backup's uplink ends the bitrate here.",
  sheet: "The platform's recommended bitrate is reached.",
  encoder: "The encoder ends the bitrate here.",
  source: "The camera gives no more than this.",
  level: "The highest codec level is reached.",
};

export const limitWord: Record<Limit, string> = {
  uplink: "Line",
  "backup-uplink": "Backup's uplink",
  sheet: "Rule sheet",
  encoder: "Encoder",
  source: "Camera",
  level: "Codec level",
};

const codecTail = { h264: "", h265: ", H.265", av1: ", AV1" } as const;

/** "1920×1080, 25 frames/s"; a codec other than the usual one is said. */
export const planTitle = (p: { width: number; height: number; frameRate: string; codec?: keyof typeof codecTail }): string =>
  `${sizeText(p)}, ${frameRateText(p.frameRate)}${codecTail[p.codec ?? "h264"]}`;

/** One sentence of why the best plan is the best. */
export function whySentence(answer: FitAnswer & { kind: "fit" }): string {
  const { best, alternatives } = answer;
  const [next] = alternatives;
  const lead = next
    ? ` The next best, ${planTitle(next.settings)} at ${rateText(next.settings.videoBps)}, scores ${next.score.q.toFixed(0)}.`
    : "";
  return `${limitSentence[best.bound]}${lead}`;
}

/** What lifting a limit would give, where it gives anything worth naming. */
export function gainSentence(limit: Limit, q: number): string | null {
  if (q < 0.5) return null;
  const what: Record<Limit, string> = {
    uplink: "A line without limit",
    "backup-uplink": "A faster backup uplink",
    sheet: "Going up to the platform's maximum",
    encoder: "A stronger encoder",
    source: "A larger camera picture",
    level: "A higher codec level",
  };
  return `${what[limit]} would add ${q.toFixed(1)} to the score.`;
}

export function refusedSentence(r: (FitAnswer & { kind: "fit" })["refused"][number]): string {
  if (r.by === "uplink" || r.by === "backup-uplink")
    return `needs at least ${rateText(r.neededBps)} on ${r.by === "uplink" ? "the line" : "the backup's uplink"}`;
  return r.by === "level" ? "the codec level is too high" : "the encoder cannot make it";
}

export function conflictSentence(c: (FitAnswer & { kind: "none" })["conflict"][number], uplinkName: (id: string) => string): string {
  if (c.demand === "uplink")
    return `${uplinkName(c.uplinkId)} can use ${rateText(c.usableBps)}; the smallest picture the platform takes loads ${rateText(c.neededBps)}.`;
  if (c.demand === "encoder") return `The encoder can make none of the platform's modes (${c.what}).`;
  if (c.demand === "protocol") return `The platform takes ${c.sheet.join(", ")}; the encoder sends ${c.encoder.join(", ")}.`;
  return c.why === "not-offered"
    ? "A backup feed is wanted, but this platform has no backup ingest."
    : "A backup feed is wanted, and there is no room for it.";
}

export const scoreText = (p: Plan): string => p.score.q.toFixed(0);
