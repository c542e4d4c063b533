import type { Encoder } from "@ukaza/contract/encoder";
import type { FitProblem } from "@ukaza/contract/fit";
import type { Protocol, Settings } from "@ukaza/contract/settings";
import { codecLevel, compareLevels } from "../../media/levels";
import { lacks } from "../../rules/abilities";
import { B_FRAMES } from "../../rules/baseSettings";
import { loadOnPath } from "../../survey/loadOnPath";
import { pictureScore } from "../score";
import { ladderOf } from "./ladder";
import type { Terms } from "./terms";
import { profileOrder } from "./tried";

/** Points of the objective: weight · Q in millionths, as whole numbers, so that a tie is a tie. */
export const POINT = 1e6;

export type EndedBy = "sheet" | "encoder" | "level";

/** What an engine (or a ladder of them) may be told: everything settled but the bitrate, which runs along `bps`. */
export interface Make {
  base: Settings;
  picture: Terms["picture"];
  /** Bitrates, bit/s, rising. */
  bps: readonly number[];
  /** Q of each bitrate in millionths. */
  q: Float64Array;
  endedBy: EndedBy;
  lumaPerS: number;
  /** Engines it takes on each encoder, and feeds each way it is sent. */
  engines: number;
  /** Smaller renditions beside the main one, by bitrate. */
  rungs: readonly (readonly Settings[])[];
  /** Load of one sending by bitrate, bit/s at the IP layer; Infinity where the path does not carry it. */
  loads: (protocol: Protocol, uplink: number, audioBps?: number) => Float64Array;
}

const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b));

const lowest = (terms: readonly Terms[], of: (t: Terms) => number) => Math.min(...terms.map(of));
const highest = (terms: readonly Terms[], of: (t: Terms) => number) => Math.max(...terms.map(of));

/** Audio that several take, bit/s: the least that is wished for, within the ranges of all; null: they have none in common. */
function sharedAudioBps(terms: readonly Terms[], encoderMaxBps: number): number | null {
  const least = highest(terms, (t) => t.audio.minBps);
  const most = lowest(terms, (t) => t.audio.maxBps);
  const asked = Math.min(
    Math.max(
      lowest(terms, (t) => t.audio.wishedBps),
      least,
    ),
    most,
    encoderMaxBps,
  );
  return asked < least ? null : asked;
}

/** The sample rate that a destination would be sent by these encoders: 48 kHz where all have it. */
function ownHz(t: Terms, encoders: readonly Encoder[]): number | null {
  const shared = t.sampleRatesHz.filter((hz) => encoders.every((e) => e.audioRatesHz.includes(hz)));
  return shared.includes(48_000) ? 48_000 : (shared[0] ?? null);
}

function exactOf(terms: readonly Terms[], of: (t: Terms) => { most: number; exact: number | null }, most: number): number | null {
  const fixed = new Set(terms.flatMap((t) => of(t).exact ?? []));
  const limit = Math.min(
    most,
    lowest(terms, (t) => of(t).most),
  );
  const [only] = fixed;
  if (fixed.size > 1) return null;
  return only === undefined ? limit : only;
}

/** Everything but the bitrate that all these destinations take and all these encoders make; null: there is nothing. */
function baseOf(terms: readonly Terms[], encoders: readonly Encoder[], problem: FitProblem): Settings | null {
  const [first] = terms;
  if (!first) return null;
  const { codec, width, height, frameRate } = first.picture;
  const profile = profileOrder.find(
    (p) =>
      terms.every((t) => t.profiles.includes(p)) &&
      encoders.every((e) => e.codecs.some((c) => c.codec === codec && c.profiles.includes(p))),
  );
  if (!profile) return null;
  const made = encoders.every(
    (e) =>
      width % e.sizeMultiple === 0 &&
      height % e.sizeMultiple === 0 &&
      lacks(e, { width, height, frameRate, codec, profile }, problem.source).length === 0,
  );
  if (!made) return null;
  const audioBps = sharedAudioBps(terms, Math.min(...encoders.map((e) => e.audioMaxBps)));
  const rates = new Set(terms.map((t) => ownHz(t, encoders)));
  const [audioHz] = rates;
  if (audioBps === null || rates.size !== 1 || audioHz === null || audioHz === undefined) return null;
  const leastS = highest(terms, (t) => t.keyframe.minS);
  const mostS = lowest(terms, (t) => t.keyframe.maxS);
  if (leastS > mostS) return null;
  const rateControl = (["constant", "capped-variable"] as const).find((r) => terms.every((t) => t.rateControls.includes(r)));
  const bFrames = exactOf(terms, (t) => t.bFrames, profile === "baseline" ? 0 : B_FRAMES);
  const audioChannels = exactOf(terms, (t) => t.channels, Math.min(2, ...encoders.map((e) => e.audioChannelsMax)));
  if (!rateControl || bFrames === null || audioChannels === null) return null;
  const keyframeS = Math.min(
    Math.max(
      lowest(terms, (t) => t.keyframe.recommendedS),
      leastS,
    ),
    mostS,
  );
  const settled = { codec, profile, width, height, frameRate, rateControl, keyframeS, bFrames, audioBps, audioHz, audioChannels };
  return { ...settled, videoBps: 0, protocol: "rtmp" };
}

/** Bitrates on the steps of all these encoders that all destinations take, and what ends them. */
function bitrates(terms: readonly Terms[], encoders: readonly Encoder[], base: Settings): { bps: number[]; endedBy: EndedBy } | null {
  const step = encoders.map((e) => e.videoBps.step).reduce((a, b) => (a / gcd(a, b)) * b);
  const least = Math.max(
    highest(terms, (t) => t.minBps),
    ...encoders.map((e) => e.videoBps.min),
  );
  const sheetTop = lowest(terms, (t) => t.topBps);
  const encoderTop = Math.min(...encoders.map((e) => e.videoBps.max));
  const most = Math.min(sheetTop, encoderTop);
  const exact = terms.find((t) => t.exactBps !== null)?.exactBps ?? null;
  const all: number[] = [];
  if (exact !== null) {
    if (exact >= least && exact <= most) all.push(exact);
  } else for (let bps = Math.ceil(least / step) * step; bps <= most; bps += step) all.push(bps);
  const levels = [...terms.map((t) => t.maxLevel), ...encoders.map((e) => e.codecs.find((c) => c.codec === base.codec)?.maxLevel ?? "1")];
  const takes = (videoBps: number) => {
    const level = codecLevel({ ...base, videoBps });
    return level !== null && levels.every((max) => compareLevels(level, max) <= 0);
  };
  // A level takes every bitrate below one that it takes.
  let from = 0;
  let to = all.length;
  while (from < to) {
    const middle = (from + to) >> 1;
    if (takes(all[middle] as number)) from = middle + 1;
    else to = middle;
  }
  const bps = all.slice(0, from);
  if (bps.length === 0) return null;
  return { bps, endedBy: bps.length < all.length ? "level" : encoderTop < sheetTop ? "encoder" : "sheet" };
}

/** Makes what engines can be told; what was worked out once is kept, since searches ask for the same again and again. */
export class Makes {
  private readonly made = new Map<string, Make[]>();
  private readonly scores: Map<string, number>;
  private readonly loadTables: Map<string, Float64Array>;

  /** `known`: makes of the same problem with other terms; what does not hang on terms is taken from there. */
  constructor(
    private readonly problem: FitProblem,
    known?: Makes,
  ) {
    this.scores = known?.scores ?? new Map();
    this.loadTables = known?.loadTables ?? new Map();
  }

  /** What engines on each of these encoders can be told to suit all these destinations; several only for a ladder. */
  of(terms: readonly Terms[], encoders: readonly number[]): readonly Make[] {
    const key = `${terms.map((t) => t.id).join(",")}@${encoders.join(",")}`;
    const known = this.made.get(key);
    if (known) return known;
    const makes = this.build(terms, encoders);
    this.made.set(key, makes);
    return makes;
  }

  private build(terms: readonly Terms[], at: readonly number[]): Make[] {
    const { problem } = this;
    const encoders = at.flatMap((e) => problem.encoders[e] ?? []);
    const [first] = terms;
    const base = baseOf(terms, encoders, problem);
    if (!base || !first) return [];
    const range = bitrates(terms, encoders, base);
    if (!range) return [];
    const destination = problem.destinations[first.destination];
    const renditions = destination?.renditions ?? 1;
    if (renditions === 1)
      return [
        this.make(
          base,
          first.picture,
          range.bps,
          range.endedBy,
          range.bps.map(() => []),
        ),
      ];
    if (terms.length > 1 || !destination) return [];
    // Ladders of the same sizes together: they take the same engines and luma.
    const byShape = new Map<string, { bps: number[]; rungs: Settings[][] }>();
    for (const videoBps of range.bps) {
      const rungs = ladderOf({ ...base, videoBps }, destination.sheet, encoders, problem.source, problem.content, renditions);
      if (!rungs) continue;
      const shape = rungs.map((r) => `${r.width}x${r.height} ${r.frameRate}`).join(" ");
      const entry = byShape.get(shape) ?? { bps: [], rungs: [] };
      entry.bps.push(videoBps);
      entry.rungs.push(rungs);
      byShape.set(shape, entry);
    }
    return [...byShape.values()].map(({ bps, rungs }) => this.make(base, first.picture, bps, range.endedBy, rungs));
  }

  private make(base: Settings, picture: Terms["picture"], bps: number[], endedBy: EndedBy, rungs: Settings[][]): Make {
    const tables = new Map<string, Float64Array>();
    const below = rungs[0] ?? [];
    const lumaPerS = [base, ...below].reduce((sum, s) => sum + (s.width * s.height * picture.lumaPerS) / (base.width * base.height), 0);
    return {
      base,
      picture,
      bps,
      q: Float64Array.from(bps, (videoBps) => this.scoreOf(base, picture.index, videoBps)),
      endedBy,
      lumaPerS: below.length === 0 ? picture.lumaPerS : lumaPerS,
      engines: 1 + below.length,
      rungs,
      loads: (protocol, uplink, audioBps = base.audioBps) => {
        // Uplinks of the same path share their tables.
        const key = `${protocol} ${this.pathOf(uplink)} ${audioBps}`;
        let table = tables.get(key);
        if (!table) {
          const one = (s: Settings) => this.loadOf({ ...s, protocol, audioBps }, uplink);
          table = Float64Array.from(bps, (videoBps, i) =>
            (rungs[i] ?? []).reduce((sum, rung) => sum + one(rung), one({ ...base, videoBps })),
          );
          tables.set(key, table);
        }
        return table;
      },
    };
  }

  private scoreOf(base: Settings, picture: number, videoBps: number): number {
    const key = `${picture} ${videoBps}`;
    let q = this.scores.get(key);
    if (q === undefined) {
      q = Math.round(POINT * pictureScore({ ...base, videoBps }, this.problem.source, this.problem.content).q);
      this.scores.set(key, q);
    }
    return q;
  }

  private pathOf(uplink: number): string {
    const { lossRatio, rttMs } = this.problem.uplinks[uplink] ?? {};
    return lossRatio === undefined ? "" : `${lossRatio}/${rttMs ?? ""}`;
  }

  private loadOf(s: Settings, at: number): number {
    const uplink = this.problem.uplinks[at];
    const key = `${s.protocol} ${this.pathOf(at)} ${s.frameRate} ${s.audioBps} ${s.audioHz}`;
    let table = this.loadTables.get(key);
    const kb = s.videoBps / 1000;
    const whole = Number.isInteger(kb) && kb < 32_768;
    if (!whole || !uplink) return loadOnPath(uplink ?? {}, s);
    if (!table) {
      table = new Float64Array(32_768);
      this.loadTables.set(key, table);
    }
    if (table[kb] === 0) table[kb] = loadOnPath(uplink, s);
    return table[kb] as number;
  }
}
