import type { Encoder } from "@ukaza/contract/encoder";
import type { Finding } from "@ukaza/contract/findings";
import type { Content, Settings, Source } from "@ukaza/contract/settings";
import { judders, referenceBps, sourceHz } from "../fit/score";
import { frameRateHz } from "../media/frameRate";
import { compareLevels, h264Level } from "../media/h264Levels";
import { feedLoad } from "../media/load";
import { audioMend, changeOf, nearestVideoBps, pictureMend, protocolMend, type Rules, sameShape, videoMend } from "./resolve";

/** Settings against what the encoder can do. */
export function checkEncoder(s: Settings, encoder: Encoder, rules: Rules): Finding[] {
  const findings: Finding[] = [];
  // Worked out only where a finding asks for them: most settings have none.
  const picture = () => pictureMend(s, rules);
  const video = () => videoMend(s, nearestVideoBps(s, rules));
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
      mend: picture(),
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
        mend: picture(),
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
        mend: video() ?? picture(),
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
      mend: picture(),
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
      mend: picture(),
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
      mend: video(),
    });
  } else if (onStep !== s.videoBps) {
    findings.push({
      code: "encoder-step",
      level: "notes",
      field: "videoBps",
      is: s.videoBps,
      wanted: { oneOf: [onStep] },
      rule: at("videoBps"),
      mend: video(),
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
      mend: audioMend(s, rules),
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
      mend: protocolMend(s, rules),
    });
  }
  return findings;
}

/** Settings against what the camera gives: nothing here blocks, all of it shows. */
export function checkSource(s: Settings, source: Source, rules: Rules): Finding[] {
  const findings: Finding[] = [];
  const at = (clause: string) => ({ by: "source" as const, clause });
  const say = (
    code: string,
    level: Finding["level"],
    field: Finding["field"],
    is: Finding["is"],
    wanted: Finding["wanted"],
    clause: string,
    mend: Finding["mend"] = null,
  ) => void findings.push({ code, level, field, is, wanted, rule: at(clause), mend });
  const [size, camera] = [`${s.width}×${s.height}`, `${source.width}×${source.height}`];
  if (judders(s.frameRate, source))
    say("cadence", "risks", "frameRate", s.frameRate, { oneOf: [source.frameRate] }, "frameRate", pictureMend(s, rules));
  else if (frameRateHz(s.frameRate) > sourceHz(source))
    say("faster-than-source", "notes", "frameRate", s.frameRate, { max: sourceHz(source) }, "frameRate");
  if (source.scan === "interlaced") {
    const deinterlaces = rules.encoder?.deinterlaces ?? true;
    say(
      deinterlaces ? "interlaced" : "interlaced-not-mended",
      deinterlaces ? "notes" : "risks",
      "frameRate",
      s.frameRate,
      { oneOf: [sourceHz(source)] },
      "scan",
    );
  }
  if (s.width * s.height > source.width * source.height) say("larger-than-source", "notes", "width", size, { oneOf: [camera] }, "size");
  if (!sameShape(s, source)) {
    const turned = (s.width - s.height) * (source.width - source.height) < 0;
    say(turned ? "orientation" : "aspect", "risks", "width", size, { oneOf: [camera] }, "size", pictureMend(s, rules));
  }
  return findings;
}

/** Bitrate over which a size and rate gain nothing that is seen, as a multiple of the reference (rule of thumb). */
const ENOUGH = 2.5;

/** More bitrate than the picture needs: it costs line and gains nothing that is seen. */
export function checkNeed(s: Settings, content: Content, rules: Rules): Finding[] {
  const enough = Math.ceil(ENOUGH * referenceBps(s, content));
  if (s.videoBps <= enough) return [];
  const videoBps = nearestVideoBps(s, rules, enough);
  return [
    {
      code: "more-than-needed",
      level: "notes",
      field: "videoBps",
      is: s.videoBps,
      wanted: { max: enough },
      rule: { by: "rule of thumb", clause: "bitrate for size, rate and content" },
      mend: videoMend(s, videoBps),
    },
  ];
}

/**
 * Load against the usable rate of the uplink, bit/s at the IP layer.
 * The mend lowers the bitrate to the highest step that fits, if the mode goes that low.
 */
export function checkLine(s: Settings, usableBps: number, rules: Rules): Finding[] {
  const { loadBps } = feedLoad(s);
  if (loadBps <= usableBps) return [];
  const videoBps = nearestVideoBps(s, rules);
  const fits = videoBps !== null && feedLoad({ ...s, videoBps }).loadBps <= usableBps;
  return [
    {
      code: "load-over-line",
      level: "blocks",
      field: "videoBps",
      is: loadBps,
      wanted: { max: usableBps },
      rule: { by: "uplink", clause: "usable rate" },
      mend: fits ? changeOf(s, { videoBps }) : null,
    },
  ];
}
