import type { FitDestination, FitProblem } from "@ukaza/contract/fit";
import type { Mode } from "@ukaza/contract/ruleSheet";
import type { Codec, Profile, Settings } from "@ukaza/contract/settings";
import { frameRateHz } from "../../media/frameRate";
import { sheetAudioBps } from "../../rules/baseSettings";
import { openMode } from "../../rules/modes";

/** A size at a frame rate in a codec; two modes of different sheets may be the same picture. */
export interface Picture {
  index: number;
  codec: Codec;
  width: number;
  height: number;
  frameRate: string;
  lumaPerS: number;
}

/** What one destination takes of one picture, by its rule sheet and what is fixed for it. Rates in bit/s. */
export interface Terms {
  /** Unique within a model. */
  id: number;
  destination: number;
  picture: Picture;
  profiles: readonly Profile[];
  maxLevel: string;
  minBps: number;
  topBps: number;
  /** A bitrate fixed by the user or frozen: it need not lie on an encoder's steps. */
  exactBps: number | null;
  rateControls: readonly Settings["rateControl"][];
  keyframe: { minS: number; recommendedS: number; maxS: number };
  bFrames: { most: number; exact: number | null };
  audio: { minBps: number; wishedBps: number; maxBps: number };
  sampleRatesHz: readonly number[];
  channels: { most: number; exact: number | null };
}

const keyOf = (p: Pick<Settings, "codec" | "width" | "height" | "frameRate">) => `${p.codec} ${p.width}x${p.height} ${p.frameRate}`;

/** Collects pictures under one number each. */
export class Pictures {
  private readonly known = new Map<string, Picture>();

  of(p: Pick<Settings, "codec" | "width" | "height" | "frameRate">): Picture {
    const key = keyOf(p);
    let picture = this.known.get(key);
    if (!picture) {
      const { codec, width, height, frameRate } = p;
      picture = { index: this.known.size, codec, width, height, frameRate, lumaPerS: width * height * frameRateHz(frameRate) };
      this.known.set(key, picture);
    }
    return picture;
  }

  get all(): Picture[] {
    return [...this.known.values()];
  }
}

type Row = Mode & { frameRate: string };

const rowsOf = (modes: readonly Mode[]): Row[] => modes.flatMap((mode) => mode.frameRates.map((frameRate) => ({ ...mode, frameRate })));

/** Modes at each of their rates; a sheet that takes any picture also takes those of the others, and the one that is fixed. */
function offered(d: FitDestination, problem: FitProblem): Row[] {
  const own = rowsOf(d.sheet.modes);
  if (!d.sheet.openModes) return own;
  const others = problem.destinations.filter((o) => o !== d && !o.sheet.openModes).flatMap((o) => rowsOf(o.sheet.modes));
  const { width, height, frameRate, codec } = d.fixed;
  if (width && height && frameRate && codec) others.push({ ...openMode({ width, height, frameRate, codec }), frameRate });
  const have = new Set(own.map(keyOf));
  const more = others.filter((row) => !have.has(keyOf(row)) && have.add(keyOf(row)));
  return [...own, ...more.map((row) => ({ ...openMode(row), recommendedBps: row.recommendedBps ?? row.maxBps, frameRate: row.frameRate }))];
}

const keeps = (row: Row, fixed: FitDestination["fixed"]): boolean =>
  (["width", "height", "frameRate", "codec"] as const).every((field) => fixed[field] === undefined || fixed[field] === row[field]);

/** Everything that a destination takes, one entry for each of its modes and frame rates. */
export function termsOf(problem: FitProblem, destination: number, pictures: Pictures, nextId: () => number): Terms[] {
  const d = problem.destinations[destination];
  if (!d) return [];
  const { sheet, fixed } = d;
  const within = (value: number | undefined, least: number, most: number) => value === undefined || (value >= least && value <= most);
  const { keyframe: k, audio: a } = sheet;
  if (
    !within(fixed.keyframeS, k.minS, k.maxS) ||
    !within(fixed.audioBps, a.minBps, a.maxBps) ||
    !within(fixed.bFrames, 0, sheet.bFramesMax)
  )
    return [];
  const channelsMost = Math.min(2, sheet.audio.channelsMax);
  const only = <T>(all: readonly T[], value: T | undefined): T[] => all.filter((one) => value === undefined || one === value);
  return offered(d, problem).flatMap((row): Terms[] => {
    if (!keeps(row, fixed) || !within(fixed.videoBps, row.minBps, row.maxBps)) return [];
    const topBps = fixed.videoBps ?? (problem.allowMaximum ? row.maxBps : (row.recommendedBps ?? row.maxBps));
    return [
      {
        id: nextId(),
        destination,
        picture: pictures.of(row),
        profiles: only(row.profiles, fixed.profile),
        maxLevel: row.maxLevel,
        minBps: fixed.videoBps ?? row.minBps,
        topBps,
        exactBps: fixed.videoBps ?? null,
        rateControls: only(sheet.rateControls, fixed.rateControl),
        keyframe: fixed.keyframeS === undefined ? k : { minS: fixed.keyframeS, recommendedS: fixed.keyframeS, maxS: fixed.keyframeS },
        bFrames: { most: sheet.bFramesMax, exact: fixed.bFrames ?? null },
        audio:
          fixed.audioBps === undefined
            ? { minBps: a.minBps, wishedBps: sheetAudioBps(sheet), maxBps: a.maxBps }
            : { minBps: fixed.audioBps, wishedBps: fixed.audioBps, maxBps: fixed.audioBps },
        sampleRatesHz: only(sheet.audio.sampleRatesHz, fixed.audioHz),
        channels: { most: channelsMost, exact: fixed.audioChannels ?? null },
      },
    ];
  });
}
