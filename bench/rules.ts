import { readFileSync } from "node:fs";
import { join } from "node:path";
import { platformFile } from "@ukaza/contract/library";
import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import type { Settings } from "@ukaza/contract/settings";
import { seeded } from "@ukaza/core/random";
import { checkSettings, faultsIn } from "@ukaza/core/rules/check";
import { line } from "./say";

const SHEETS = 200;
const MODES = 50;
const SETTINGS = 1_000;
const SEED = 77;
/** Mends cost more than finding: fewer settings tell as much. */
const MENDED = 50;

/** 1,000 settings against 200 sheets of 50 modes, beside a bare look through the same modes. */
export function checks(root: string): void {
  const { sheet } = platformFile.parse(JSON.parse(readFileSync(join(root, "demo/platforms/oriel-public.json"), "utf8")));
  const random = seeded(SEED);
  const pick = <T>(values: readonly T[]): T => values[Math.floor(random() * values.length)] as T;
  const sheets: RuleSheet[] = Array.from({ length: SHEETS }, () => ({
    ...sheet,
    modes: Array.from({ length: MODES }, (_, i) => ({ ...pick(sheet.modes), width: 320 + 32 * i, height: 180 + 18 * i })),
  }));
  const settings: Settings[] = Array.from({ length: SETTINGS }, () => {
    const i = Math.floor(random() * MODES);
    return {
      codec: pick(["h264", "h265"]),
      profile: pick(["high", "main"]),
      width: 320 + 32 * i,
      height: 180 + 18 * i,
      frameRate: pick(["25", "30", "50"]),
      videoBps: 500_000 + 100_000 * Math.floor(random() * 100),
      rateControl: "constant",
      keyframeS: pick([1, 2, 6]),
      bFrames: pick([0, 2, 3]),
      audioBps: pick([128_000, 320_000]),
      audioHz: 48_000,
      audioChannels: 2,
      protocol: "rtmp",
    };
  });
  let found = 0;
  const began = performance.now();
  for (const s of settings) for (const one of sheets) found += faultsIn({ sheet: one, settings: s }).length;
  const ours = performance.now() - began;
  const mending = performance.now();
  for (const s of settings.slice(0, MENDED)) for (const one of sheets) checkSettings({ sheet: one, settings: s });
  const withMends = performance.now() - mending;
  let bare = 0;
  const start = performance.now();
  for (const s of settings)
    for (const one of sheets)
      bare += one.modes.filter((m) => m.width === s.width && m.height === s.height && m.frameRates.includes(s.frameRate)).length;
  const plain = performance.now() - start;
  line(
    "settings checked, 1,000 × 200 sheets of 50 modes",
    `${((SETTINGS * SHEETS) / ours).toFixed(0)} k/s`,
    "as is",
    `${(ours / plain).toFixed(1)} times one look through the modes; ${(found / SETTINGS / SHEETS).toFixed(1)} findings each, ${bare} rows met; seed ${SEED}`,
  );
  line(
    "the same with every mend worked out",
    `${((MENDED * SHEETS) / withMends).toFixed(0)} k/s`,
    "as is",
    `${(withMends / MENDED / (ours / SETTINGS)).toFixed(1)} times finding alone`,
  );
}
