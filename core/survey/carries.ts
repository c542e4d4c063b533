import type { Mode, RuleSheet } from "@ukaza/contract/ruleSheet";
import type { Protocol } from "@ukaza/contract/settings";
import { frameRateHz } from "../media/frameRate";
import { baseSettings, sheetAudioBps } from "../rules/baseSettings";
import { loadOnPath, type PathFigures } from "./loadOnPath";

/** One size and frame rate of a platform, and what it asks of a line. */
export interface Kind {
  width: number;
  height: number;
  frameRate: string;
  codec: Mode["codec"];
  protocol: Protocol;
  /** The bitrate it is reckoned with: the sheet's recommended one (else its maximum), or its minimum. */
  videoBps: number;
  at: "recommended" | "minimum";
  /** bit/s at the IP layer. */
  loadBps: number;
  /** How many such feeds fit on the line at the same time. */
  fits: number;
}

/** What a line carries of one platform's modes. */
export interface Carries {
  /** The largest, alone on the line, at the recommended bitrate; null: none. */
  largest: Kind | null;
  /** The largest at the least bitrate that the platform takes for it; null: none. */
  utmost: Kind | null;
  /** Every size at its highest frame rate, at the recommended bitrate, the largest first. */
  kinds: Kind[];
  /** The least that any of its modes needs, bit/s at the IP layer. */
  leastLoadBps: number;
}

const area = (k: Kind) => k.width * k.height;
const larger = (a: Kind, b: Kind) => area(b) - area(a) || frameRateHz(b.frameRate) - frameRateHz(a.frameRate) || a.loadBps - b.loadBps;

/** Every mode of a sheet over the protocol that loads this path least, at a bitrate of the mode's. */
function kindsAt(sheet: RuleSheet, usableBps: number, path: PathFigures, at: Kind["at"]): Kind[] {
  return sheet.modes.flatMap((mode) =>
    mode.frameRates.flatMap((frameRate) => {
      const videoBps = at === "minimum" ? mode.minBps : (mode.recommendedBps ?? mode.maxBps);
      const chosen = { profile: mode.profiles[0] ?? "main", videoBps, audioBps: sheetAudioBps(sheet) };
      const ways = sheet.protocols.map(({ protocol }) => ({
        protocol,
        loadBps: loadOnPath(path, baseSettings(sheet, mode, frameRate, protocol, chosen)),
      }));
      const way = ways.reduce((best, next) => (next.loadBps < best.loadBps ? next : best));
      const { width, height, codec } = mode;
      const fits = Number.isFinite(way.loadBps) ? Math.floor(usableBps / way.loadBps) : 0;
      return [{ width, height, frameRate, codec, ...way, videoBps, at, fits }];
    }),
  );
}

/** What a usable rate carries of one platform, each mode alone on the line. */
export function carriesOf(sheet: RuleSheet, usableBps: number, path: PathFigures): Carries {
  const recommended = kindsAt(sheet, usableBps, path, "recommended").sort(larger);
  const least = kindsAt(sheet, usableBps, path, "minimum").sort(larger);
  const highest = new Map<string, Kind>();
  for (const kind of recommended) {
    const key = `${kind.width}x${kind.height}/${kind.codec}`;
    if (!highest.has(key)) highest.set(key, kind);
  }
  return {
    largest: recommended.find((k) => k.fits > 0) ?? null,
    utmost: least.find((k) => k.fits > 0) ?? null,
    kinds: [...highest.values()],
    leastLoadBps: least.reduce((low, k) => Math.min(low, k.loadBps), Number.POSITIVE_INFINITY),
  };
}
