import type { DocumentChange } from "@ukaza/contract/library";
import { dataText, frameRateText, rateText } from "./units";

/** What the parts of sheets and encoders are called. Parts that are not here are said by their own names, word by word. */
const part: Record<string, string> = {
  modes: "Mode",
  openModes: "Takes any picture",
  rateControls: "Rate control",
  bFramesMax: "B-frames at most",
  sampleRatesHz: "sample rates",
  channelsMax: "channels at most",
  minBps: "minimum",
  recommendedBps: "recommended",
  maxBps: "maximum",
  videoBps: "Video bitrate",
  minS: "minimum",
  recommendedS: "recommended",
  maxS: "maximum",
  typicalS: "usually",
  longestS: "at most",
  protocols: "Protocol",
  alsoTakes: "Also takes",
  backupIngest: "Backup ingest",
  backupSameSettings: "Backup with the same settings",
  renditionsMax: "Renditions at most",
  transcodes: "Makes smaller sizes itself",
  keyLife: "Stream key",
  lastingKeyOnRequest: "Lasting key on request",
  latencyModes: "Latency mode",
  delayS: "delay",
  pricePerHour: "Price an hour",
  setBy: "Address and key come by",
  maxLumaPerS: "Pixels a second",
  audioMaxBps: "Audio at most",
  audioRatesHz: "Sample rates",
};

const spaced = (name: string) => name.replace(/([A-Z])/g, (capital) => ` ${capital.toLowerCase()}`);
const first = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** "modes[1920×1080 h264 25, 30].maxBps" as "Mode 1920×1080 h264 25, 30, maximum". */
export function placeText(path: string): string {
  const names = path.match(/[^.[\]]+(?=[.[]|$)|\[[^\]]*\]/g) ?? [path];
  const words = names.map((name) => (name.startsWith("[") ? ` ${name.slice(1, -1)}` : `, ${part[name] ?? spaced(name)}`));
  return first(words.join("").replace(/^, /, ""));
}

/** A value in its unit, by the name of its field. */
function valueText(field: string, value: unknown): string {
  if (value === null || value === undefined || value === "") return "nothing";
  if (typeof value === "boolean") return value ? "yes" : "no";
  if (typeof value === "number") {
    if (field.endsWith("Bps")) return rateText(value);
    if (field.endsWith("Bytes")) return dataText(value);
    if (field === "maxLumaPerS") return `${(value / 1e6).toFixed(0)} million`;
    if (field.endsWith("Hz")) return `${value / 1e3} kHz`;
    return field.endsWith("S") ? `${value} s` : String(value);
  }
  if (Array.isArray(value))
    return value.length === 0 ? "nothing" : value.map((v) => valueText(field === "frameRates" ? "frameRate" : field, v)).join(", ");
  if (typeof value === "object")
    return Object.entries(value)
      .map(([name, v]) => `${part[name] ?? spaced(name)} ${valueText(name, v)}`)
      .join(", ");
  return field === "frameRate" ? frameRateText(String(value)) : String(value);
}

/** One change in words: what, and from what to what. */
export function changeText({ path, before, after }: DocumentChange): { place: string; what: string } {
  const field =
    path
      .replace(/\[[^\]]*\]$/, "")
      .split(".")
      .at(-1) ?? path;
  const place = placeText(path);
  if (before === null) return { place, what: `new: ${valueText(field, after)}` };
  if (after === null) return { place, what: `gone; it was ${valueText(field, before)}` };
  return { place, what: `${valueText(field, before)} → ${valueText(field, after)}` };
}
