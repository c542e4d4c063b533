import type { Encoder } from "@ukaza/contract/encoder";
import type { Finding } from "@ukaza/contract/findings";
import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import type { Settings, SettingsPatch, Source } from "@ukaza/contract/settings";
import { judders, sourceHz } from "../fit/score";
import { frameRateHz } from "../media/frameRate";
import { compareLevels, h264Level } from "../media/h264Levels";
import { feedLoad } from "../media/load";
import { modesFor } from "./modes";

/** Settings against what the encoder can do. */
export function checkEncoder(s: Settings, encoder: Encoder): Finding[] {
  const findings: Finding[] = [];
  const at = (clause: string) => ({ by: "encoder" as const, clause });
  const ability = encoder.codecs.find((c) => c.codec === s.codec);
  if (!ability) {
    findings.push({
      code: "encoder-codec",
      level: "blocks",
      field: "codec",
      is: s.codec,
      wanted: { oneOf: encoder.codecs.map((c) => c.codec) },
      rule: at("codecs"),
      mend: null,
    });
  } else {
    if (!ability.profiles.includes(s.profile)) {
      findings.push({
        code: "encoder-profile",
        level: "blocks",
        field: "profile",
        is: s.profile,
        wanted: { oneOf: ability.profiles },
        rule: at("codecs"),
        mend: null,
      });
    }
    const level = s.codec === "h264" ? h264Level(s.width, s.height, s.frameRate, s.videoBps, s.profile) : null;
    if (level !== null && compareLevels(level, ability.maxLevel) > 0) {
      findings.push({
        code: "encoder-level",
        level: "blocks",
        field: "videoBps",
        is: level,
        wanted: { oneOf: [ability.maxLevel] },
        rule: at("codecs"),
        mend: null,
      });
    }
  }
  if (s.width > encoder.maxWidth || s.height > encoder.maxHeight) {
    findings.push({
      code: "encoder-size",
      level: "blocks",
      field: "width",
      is: `${s.width}×${s.height}`,
      wanted: { oneOf: [`${encoder.maxWidth}×${encoder.maxHeight}`] },
      rule: at("size"),
      mend: null,
    });
  }
  const luma = s.width * s.height * frameRateHz(s.frameRate);
  if (luma > encoder.maxLumaPerS) {
    findings.push({
      code: "encoder-luma",
      level: "blocks",
      field: "frameRate",
      is: Math.round(luma),
      wanted: { max: encoder.maxLumaPerS },
      rule: at("maxLumaPerS"),
      mend: null,
    });
  }
  const { min, max, step } = encoder.videoBps;
  const inRange = Math.min(Math.max(s.videoBps, min), max);
  const onStep = Math.floor(inRange / step) * step;
  if (inRange !== s.videoBps) {
    findings.push({
      code: "encoder-bitrate",
      level: "blocks",
      field: "videoBps",
      is: s.videoBps,
      wanted: { min, max },
      rule: at("videoBps"),
      mend: { videoBps: inRange },
    });
  } else if (onStep !== s.videoBps) {
    findings.push({
      code: "encoder-step",
      level: "notes",
      field: "videoBps",
      is: s.videoBps,
      wanted: { oneOf: [onStep] },
      rule: at("videoBps"),
      mend: { videoBps: onStep },
    });
  }
  if (s.audioBps > encoder.audioMaxBps) {
    findings.push({
      code: "encoder-audio",
      level: "blocks",
      field: "audioBps",
      is: s.audioBps,
      wanted: { max: encoder.audioMaxBps },
      rule: at("audioMaxBps"),
      mend: { audioBps: encoder.audioMaxBps },
    });
  }
  if (!encoder.protocols.includes(s.protocol)) {
    findings.push({
      code: "encoder-protocol",
      level: "blocks",
      field: "protocol",
      is: s.protocol,
      wanted: { oneOf: encoder.protocols },
      rule: at("protocols"),
      mend: null,
    });
  }
  return findings;
}

/** Settings against what the camera gives: nothing here blocks, all of it shows. */
export function checkSource(s: Settings, source: Source, sheet: RuleSheet): Finding[] {
  const findings: Finding[] = [];
  const at = (clause: string) => ({ by: "source" as const, clause });
  if (judders(s.frameRate, source)) {
    const calm = sheet.modes
      .filter((m) => m.width === s.width && m.height === s.height && m.codec === s.codec)
      .flatMap((m) => m.frameRates)
      .find((rate) => !judders(rate, source));
    findings.push({
      code: "cadence",
      level: "risks",
      field: "frameRate",
      is: s.frameRate,
      wanted: { oneOf: [source.frameRate] },
      rule: at("frameRate"),
      mend: calm ? { frameRate: calm } : null,
    });
  } else if (frameRateHz(s.frameRate) > sourceHz(source)) {
    findings.push({
      code: "faster-than-source",
      level: "notes",
      field: "frameRate",
      is: s.frameRate,
      wanted: { max: sourceHz(source) },
      rule: at("frameRate"),
      mend: null,
    });
  }
  if (s.width * s.height > source.width * source.height) {
    findings.push({
      code: "larger-than-source",
      level: "notes",
      field: "width",
      is: `${s.width}×${s.height}`,
      wanted: { oneOf: [`${source.width}×${source.height}`] },
      rule: at("size"),
      mend: null,
    });
  }
  if (Math.abs(s.width / s.height - source.width / source.height) > 0.01) {
    findings.push({
      code: "aspect",
      level: "risks",
      field: "width",
      is: `${s.width}×${s.height}`,
      wanted: { oneOf: [`${source.width}×${source.height}`] },
      rule: at("size"),
      mend: null,
    });
  }
  return findings;
}

/**
 * Load against the usable rate of the uplink, bit/s at the IP layer.
 * The mend lowers the bitrate to the highest 100 kb/s step that fits, if the mode goes that low.
 */
export function checkLine(s: Settings, usableBps: number, sheet: RuleSheet): Finding[] {
  const { loadBps } = feedLoad(s);
  if (loadBps <= usableBps) return [];
  const [mode] = modesFor(sheet, s);
  const least = mode?.minBps ?? 100_000;
  let mend: SettingsPatch | null = null;
  for (let videoBps = Math.floor((s.videoBps - 1) / 100_000) * 100_000; videoBps >= least; videoBps -= 100_000) {
    if (feedLoad({ ...s, videoBps }).loadBps <= usableBps) {
      mend = { videoBps };
      break;
    }
  }
  return [
    {
      code: "load-over-line",
      level: "blocks",
      field: "videoBps",
      is: loadBps,
      wanted: { max: usableBps },
      rule: { by: "uplink", clause: "usable rate" },
      mend,
    },
  ];
}
