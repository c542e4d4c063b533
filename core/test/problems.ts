import type { Encoder } from "@ukaza/contract/encoder";
import { type FitProblem, fitProblem } from "@ukaza/contract/fit";
import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import { type Random, seeded } from "../random";
import { desk, oriel } from "./kit";

/** Sizes with a recommended bitrate at 25 frames/s, Mb/s; sheets made of them differ by a factor. */
const SIZES = [
  { width: 1920, height: 1080, mbps: 5.4 },
  { width: 1280, height: 720, mbps: 3 },
  { width: 960, height: 540, mbps: 1.8 },
  { width: 640, height: 360, mbps: 0.9 },
] as const;

export interface Shape {
  destinations: number;
  uplinks: number;
  encoders: number;
  engines: number;
  stepBps: number;
  /** Usable rates of all uplinks together as a share of what everybody would like. */
  tightness: number;
  /** Sizes a sheet has at most, and whether it knows 50 frames/s beside 25. */
  sizes: number;
  fast: boolean;
  features?: readonly Feature[];
}

/** What a problem may have beside the plain; each is tested alone and all together. */
export const features = [
  "may",
  "backup",
  "other-encoder",
  "fixed",
  "not-over",
  "only-from",
  "relay",
  "audio",
  "srt",
  "renditions",
  "h265",
] as const;

export type Feature = (typeof features)[number];

const pick = <T>(random: Random, all: readonly T[]): T => all[Math.floor(random() * all.length)] as T;

function sheetOf(random: Random, index: number, shape: Shape): RuleSheet {
  const factor = pick(random, [0.8, 1, 1.2]);
  const from = random() < 0.7 ? 0 : 1;
  const has = (f: Feature) => shape.features?.includes(f) ?? false;
  const round = (mbps: number) => Math.max(1, Math.round(mbps * 10)) * 100_000;
  const modes = SIZES.slice(from, from + shape.sizes).flatMap((size) =>
    (shape.fast && random() < 0.6 ? ["25", "50"] : ["25"]).flatMap((frameRate) => {
      const mbps = size.mbps * factor * (frameRate === "50" ? 1.5 : 1);
      return (has("h265") && random() < 0.4 ? (["h264", "h265"] as const) : (["h264"] as const)).map((codec) => ({
        width: size.width,
        height: size.height,
        frameRates: [frameRate],
        codec,
        profiles: codec === "h264" ? (["high", "main"] as const) : (["main"] as const),
        maxLevel: "5.1",
        minBps: round(mbps * 0.45 * (codec === "h265" ? 0.6 : 1)),
        recommendedBps: round(mbps * (codec === "h265" ? 0.6 : 1)),
        maxBps: round(mbps * 1.6),
      }));
    }),
  );
  const audioBps = has("audio") ? pick(random, [96_000, 128_000, 160_000]) : 128_000;
  return {
    ...oriel,
    platform: { id: `platform-${index}`, name: `Platform ${index}` },
    modes: modes.map((m) => ({ ...m, profiles: [...m.profiles] })),
    audio: {
      ...oriel.audio,
      recommendedBps: audioBps,
      maxBps: has("audio") ? pick(random, [128_000, 160_000, 256_000]) + 32_000 : 256_000,
    },
    protocols: [
      { ...oriel.protocols[0], protocol: "rtmp" as const },
      ...(has("srt") && random() < 0.6 ? [{ ...oriel.protocols[0], protocol: "srt" as const }] : []),
    ].slice(has("srt") && random() < 0.3 ? -1 : 0) as RuleSheet["protocols"],
    backupIngest: true,
    renditionsMax: 4,
  };
}

function encoderOf(random: Random, index: number, shape: Shape): Encoder {
  return {
    ...desk,
    id: `encoder-${index}`,
    name: `Encoder ${index}`,
    engines: shape.engines,
    maxFeeds: pick(random, [2, 4, 6, 8]),
    maxLumaPerS: pick(random, [70_000_000, 130_000_000, 260_000_000]) * Math.max(1, shape.engines / 2),
    codecs: [
      { codec: "h264", profiles: ["main", "high"], maxLevel: "5.1" },
      ...(random() < 0.5 ? [{ codec: "h265" as const, profiles: ["main" as const], maxLevel: "5.1" }] : []),
    ],
    videoBps: { min: 200_000, max: pick(random, [6_000_000, 20_000_000]), step: shape.stepBps },
  };
}

/** A problem of a given shape, the same for the same seed. */
export function randomProblem(seed: number, shape: Shape): FitProblem {
  const random = seeded(seed);
  const has = (f: Feature, share = 0.4) => (shape.features?.includes(f) ?? false) && random() < share;
  const uplinks = Array.from({ length: shape.uplinks }, (_, i) => `line-${i}`);
  const encoders = Array.from({ length: shape.encoders }, (_, i) => encoderOf(random, i, shape));
  const relay = has("relay", 1) && shape.destinations > 2;
  const destinations = Array.from({ length: shape.destinations }, (_, index) => {
    const sheet = sheetOf(random, index, shape);
    const backup = has("backup");
    const first = sheet.modes[0];
    return {
      id: `d-${index}`,
      sheet,
      weight: 1 + Math.floor(random() * 5),
      must: !(relay && index === 0) && !has("may", 0.6),
      backup,
      backupFrom: backup && shape.encoders > 1 && has("other-encoder", 0.7) ? "another encoder" : "same encoder",
      fixed:
        has("fixed", 0.3) && first
          ? pick(random, [{ frameRate: "25" }, { width: first.width, height: first.height }, { keyframeS: 2 }])
          : {},
      notOver: shape.uplinks > 1 && has("not-over", 0.3) ? [pick(random, uplinks)] : [],
      onlyFrom: has("only-from", 0.3) ? `encoder-${Math.floor(random() * shape.encoders)}` : null,
      relay: relay && index === 0,
      through: relay && index > 0 && random() < 0.6 ? { destinationId: "d-0", only: random() < 0.2 } : null,
      renditions: has("renditions", 0.3) && index === shape.destinations - 1 ? 2 : 1,
    };
  });
  const wished = destinations.reduce(
    (sum, d) => sum + Math.max(...d.sheet.modes.map((m) => m.recommendedBps ?? 0)) * (d.backup ? 2 : 1),
    0,
  );
  const shares = uplinks.map(() => 0.4 + random());
  const total = shares.reduce((a, b) => a + b, 0);
  return fitProblem.parse({
    uplinks: uplinks.map((id, i) => ({
      id,
      usableBps: Math.round((wished * 1.04 * shape.tightness * (shares[i] as number)) / total),
      ...(shape.features?.includes("srt") && i === 0 ? { rttMs: 40, lossRatio: 0.004 } : {}),
    })),
    encoders,
    destinations,
    source: { width: 1920, height: 1080, frameRate: "50", scan: "progressive" },
    content: pick(random, ["talk", "stage", "sport"]),
  });
}
