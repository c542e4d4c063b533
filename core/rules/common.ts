import type { Mode, RuleSheet } from "@ukaza/contract/ruleSheet";
import type { Profile } from "@ukaza/contract/settings";
import { frameRateHz } from "../media/frameRate";
import { sheetAudioBps } from "./baseSettings";
import { modeFor } from "./modes";

/** One picture that every one of several platforms takes, with the bitrates that suit them all. */
export interface Common {
  width: number;
  height: number;
  frameRate: string;
  codec: Mode["codec"];
  profiles: Profile[];
  minBps: number;
  maxBps: number;
  /** The least of what they recommend, within the range. */
  videoBps: number;
  /** null: their audio ranges have nothing in common. */
  audioBps: number | null;
}

function commonAudio(sheets: readonly RuleSheet[]): number | null {
  const least = Math.max(...sheets.map((s) => s.audio.minBps));
  const most = Math.min(...sheets.map((s) => s.audio.maxBps));
  return least > most ? null : Math.min(Math.max(Math.min(...sheets.map(sheetAudioBps)), least), most);
}

/** Every picture that all of these sheets take, the largest first, then the fastest. */
export function commonPictures(sheets: readonly RuleSheet[]): Common[] {
  // One that takes any picture adds nothing to what the others name; alone, it names its own.
  const first = sheets.find((sheet) => !sheet.openModes) ?? sheets[0];
  if (!first) return [];
  const others = sheets.filter((sheet) => sheet !== first);
  const audioBps = commonAudio(sheets);
  const found = first.modes.flatMap((m) =>
    m.frameRates.flatMap((frameRate): Common[] => {
      const matches = [m, ...others.flatMap((sheet) => modeFor(sheet, { ...m, frameRate }) ?? [])];
      if (matches.length < sheets.length) return [];
      const profiles = m.profiles.filter((p) => matches.every((o) => o.profiles.includes(p)));
      const minBps = Math.max(...matches.map((o) => o.minBps));
      const maxBps = Math.min(...matches.map((o) => o.maxBps));
      if (profiles.length === 0 || minBps > maxBps) return [];
      const asked = Math.min(...matches.map((o) => o.recommendedBps ?? o.maxBps));
      const { width, height, codec } = m;
      return [{ width, height, frameRate, codec, profiles, minBps, maxBps, videoBps: Math.min(Math.max(asked, minBps), maxBps), audioBps }];
    }),
  );
  return found.sort((a, b) => b.width * b.height - a.width * a.height || frameRateHz(b.frameRate) - frameRateHz(a.frameRate));
}
