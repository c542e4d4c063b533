import type { Encoder } from "@ukaza/contract/encoder";
import type { Content, Settings, Source } from "@ukaza/contract/settings";
import { judders, referenceBps, sourceHz } from "../fit/score";
import { frameRateHz } from "../media/frameRate";
import { feedLoad } from "../media/load";
import { type Fault, faultsBy } from "./fault";
import { changeOf, nearestVideoBps, pictureMend, type Rules, sameShape, videoMend } from "./resolve";

/** Settings against what the camera gives: nothing here blocks, all of it shows. */
export function checkSource(s: Settings, source: Source, rules: Rules): Fault[] {
  const { faults, say } = faultsBy("source");
  const picture = () => pictureMend(s, rules);
  const [size, camera] = [`${s.width}×${s.height}`, `${source.width}×${source.height}`];
  if (judders(s.frameRate, source)) say("cadence", "risks", "frameRate", s.frameRate, { oneOf: [source.frameRate] }, "frameRate", picture);
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
    say(turned ? "orientation" : "aspect", "risks", "width", size, { oneOf: [camera] }, "size", picture);
  }
  if (rules.encoder && !inputFor(rules.encoder, source))
    say("no-input", "risks", "width", signalText(source), { oneOf: rules.encoder.inputs.map((i) => i.connector) }, "inputs");
  return faults;
}

const signalText = (s: Source) => `${s.width}×${s.height} ${s.scan === "interlaced" ? "i" : "p"}${s.frameRate}`;

/** An input of the encoder that takes the camera's signal; an encoder that names none is taken to have one. */
function inputFor(encoder: Encoder, source: Source): boolean {
  const takes = (i: Encoder["inputs"][number]) =>
    i.signals.length === 0 ||
    i.signals.some(
      (g) => g.width === source.width && g.height === source.height && g.scan === source.scan && g.frameRates.includes(source.frameRate),
    );
  return encoder.inputs.length === 0 || encoder.inputs.some(takes);
}

/** Bitrate over which a size and rate gain nothing that is seen, as a multiple of the reference (rule of thumb). */
const ENOUGH = 2.5;

/** More bitrate than the picture needs: it costs line and gains nothing that is seen. */
export function checkNeed(s: Settings, content: Content, rules: Rules): Fault[] {
  const enough = Math.ceil(ENOUGH * referenceBps(s, content));
  if (s.videoBps <= enough) return [];
  return [
    {
      code: "more-than-needed",
      level: "notes",
      field: "videoBps",
      is: s.videoBps,
      wanted: { max: enough },
      rule: { by: "rule of thumb", clause: "bitrate for size, rate and content" },
      mend: () => videoMend(s, nearestVideoBps(s, rules, enough)),
    },
  ];
}

/**
 * Load against the usable rate of the uplink, bit/s at the IP layer.
 * The mend lowers the bitrate to the highest step that fits, if the mode goes that low.
 */
export function checkLine(s: Settings, usableBps: number, rules: Rules): Fault[] {
  const { loadBps } = feedLoad(s);
  if (loadBps <= usableBps) return [];
  const lower = () => {
    const videoBps = nearestVideoBps(s, rules);
    const fits = videoBps !== null && feedLoad({ ...s, videoBps }).loadBps <= usableBps;
    return fits ? changeOf(s, { videoBps }) : null;
  };
  return [
    {
      code: "load-over-line",
      level: "blocks",
      field: "videoBps",
      is: loadBps,
      wanted: { max: usableBps },
      rule: { by: "uplink", clause: "usable rate" },
      mend: lower,
    },
  ];
}
