import type { Mode, RuleSheet } from "@ukaza/contract/ruleSheet";
import type { Settings } from "@ukaza/contract/settings";

type Asked = Pick<Settings, "width" | "height" | "frameRate" | "codec">;

/** What a server without a list of its own takes, bit/s: the codec's level decides, not this. */
const OPEN = { minBps: 50_000, maxBps: 800_000_000, maxLevel: "6.3", profiles: ["baseline", "main", "high", "main10"] } as const;

/** The row of a sheet that takes this size, frame rate and codec; undefined: there is none. */
export function modeFor(sheet: RuleSheet, s: Asked): Mode | undefined {
  const row = sheet.modes.find(
    (m) => m.width === s.width && m.height === s.height && m.codec === s.codec && m.frameRates.includes(s.frameRate),
  );
  return sheet.openModes ? openMode(s, row) : row;
}

/** A mode where modes are suggestions: nothing but the recommended bitrate is kept of its row, if it has one. */
export function openMode({ width, height, frameRate, codec }: Asked, row?: Mode): Mode {
  const { profiles, ...rest } = OPEN;
  const recommended = row?.recommendedBps === undefined ? {} : { recommendedBps: row.recommendedBps };
  return { width, height, codec, frameRates: [frameRate], profiles: [...profiles], ...rest, ...recommended };
}
