import { type Encoder, encoder } from "@ukaza/contract/encoder";
import { readModeCells } from "@ukaza/core/formats/modeRow";
import { exactRate, shortRate } from "@ukaza/core/media/frameRate";
import { issueText, type TypedFault, typedList, typedNumber } from "../../data/typedForm";

type YesNo = "no" | "yes";
type Ability = Encoder["codecs"][number];

/** An encoder as it is typed: built like its document, so that a fault has its field; text at every end, kb/s for bitrates. */
export interface TypedEncoder {
  name: string;
  kind: Encoder["kind"];
  serial: string;
  note: string;
  engines: string;
  maxFeeds: string;
  codecs: { codec: Ability["codec"]; profiles: string[]; maxLevel: string }[];
  maxWidth: string;
  maxHeight: string;
  sizes: string;
  frameRates: string;
  orientations: string[];
  maxLumaPerS: string;
  sizeMultiple: "2" | "4" | "8" | "16";
  deinterlaces: YesNo;
  convertsFrameRate: YesNo;
  keyframesAtCuts: Encoder["keyframesAtCuts"];
  videoBps: { min: string; max: string; step: string };
  audioMaxBps: string;
  audioRatesHz: string;
  audioChannelsMax: string;
  protocols: string[];
  credentials: string[];
  inputs: { connector: Encoder["inputs"][number]["connector"]; signals: string }[];
  setBy: Encoder["setBy"];
  presets: string;
  recordings: { name: string; kind: Encoder["recordings"][number]["kind"]; freeBytes: string; maxFileBytes: string }[];
  network: string;
  reach: { driver: Encoder["reach"]["driver"]; name: string; address: string };
}

const kbps = (bitrate: number) => String(bitrate / 1e3);
const yesNo = (value: boolean): YesNo => (value ? "yes" : "no");
const GB = 1e9;
/** File systems count in powers of two: 4294967295 bytes are said as 4.29 GB and must come back whole. */
const gb = (bytes: number | null) => (bytes === null ? "" : String(bytes / GB));
const parts = (typed: string) =>
  typed
    .split(/[\n;]+/)
    .map((part) => part.trim())
    .filter(Boolean);

const writeRates = (rates: readonly string[]) => rates.map(shortRate).join(", ");
const readRates = (typed: string) => typedList(typed).map(exactRate);

type Signal = Encoder["inputs"][number]["signals"][number];
const writeSignal = (s: Signal) => `${s.width}×${s.height} ${s.scan === "interlaced" ? "i" : "p"} ${s.frameRates.map(shortRate).join(" ")}`;
/** "1920×1080 p 25 50" as a signal; what cannot be read is left for the schema to refuse. */
function readSignal(typed: string): unknown {
  const [, width, height, scan, rates = ""] = /^(\d+)\s*[x×*]\s*(\d+)\s*([ip])\s*(.*)$/i.exec(typed) ?? [];
  return {
    width: Number(width),
    height: Number(height),
    scan: scan?.toLowerCase() === "i" ? "interlaced" : "progressive",
    frameRates: readRates(rates),
  };
}

const writePreset = ({ name, settings: s }: Encoder["presets"][number]) =>
  `${name}: ${[s.width && s.height ? `${s.width}×${s.height}` : "", s.frameRate ? shortRate(s.frameRate) : "", s.videoBps ? kbps(s.videoBps) : ""].filter(Boolean).join(" ")}`;

/** "Chapel: 1280×720 25 2500" as a preset. One that stands as it was keeps what the form does not show of it. */
function readPreset(typed: string, before: Encoder["presets"]): unknown {
  const kept = before.find((preset) => writePreset(preset) === typed);
  if (kept) return kept;
  const [, name = "", size = "", rate = "", bitrate = ""] = /^(.+?):\s*(\S+)\s+(\S+)\s+(\S+)$/.exec(typed) ?? [];
  const { mode } = readModeCells(
    { size, frameRates: rate, minBps: "", recommendedBps: "", maxBps: bitrate, codec: "", profiles: "", maxLevel: "" },
    1,
  );
  return { name, settings: mode ? { width: mode.width, height: mode.height, frameRate: mode.frameRates[0], videoBps: mode.maxBps } : null };
}

/** An encoder as it stands in the form. */
export function toTypedEncoder(e: Encoder): TypedEncoder {
  return {
    name: e.name,
    kind: e.kind,
    serial: e.serial,
    note: e.note,
    engines: String(e.engines),
    maxFeeds: String(e.maxFeeds),
    codecs: e.codecs.map((c) => ({ ...c })),
    maxWidth: String(e.maxWidth),
    maxHeight: String(e.maxHeight),
    sizes: (e.sizes ?? []).map((s) => `${s.width}×${s.height}`).join(", "),
    frameRates: writeRates(e.frameRates ?? []),
    orientations: e.orientations,
    maxLumaPerS: String(e.maxLumaPerS / 1e6),
    sizeMultiple: String(e.sizeMultiple) as TypedEncoder["sizeMultiple"],
    deinterlaces: yesNo(e.deinterlaces),
    convertsFrameRate: yesNo(e.convertsFrameRate),
    keyframesAtCuts: e.keyframesAtCuts,
    videoBps: { min: kbps(e.videoBps.min), max: kbps(e.videoBps.max), step: kbps(e.videoBps.step) },
    audioMaxBps: kbps(e.audioMaxBps),
    audioRatesHz: e.audioRatesHz.join(", "),
    audioChannelsMax: String(e.audioChannelsMax),
    protocols: e.protocols,
    credentials: e.credentials,
    inputs: e.inputs.map((i) => ({ connector: i.connector, signals: i.signals.map(writeSignal).join("; ") })),
    setBy: e.setBy,
    presets: e.presets.map(writePreset).join("; "),
    recordings: e.recordings.map((r) => ({ name: r.name, kind: r.kind, freeBytes: gb(r.freeBytes), maxFileBytes: gb(r.maxFileBytes) })),
    network: e.network.map((n) => `${n.name}: ${n.kind}`).join("; "),
    reach: {
      driver: e.reach.driver,
      name: e.reach.driver === "standin" ? e.reach.name : "",
      address: e.reach.driver === "http" ? e.reach.address : "",
    },
  };
}

const number = (typed: string, factor = 1) => typedNumber(typed, Number.NaN, factor);
const listOrAny = <T>(values: T[]) => (values.length === 0 ? null : values);

/** What is typed as an encoder's document, not yet held to its schema. `before`: what it was. */
export function fromTypedEncoder(t: TypedEncoder, before: Encoder): unknown {
  const sizes = t.sizes
    .split(/[,;]+/)
    .map((size) => size.trim())
    .filter(Boolean);
  return {
    format: "ukaza-encoder",
    version: 1,
    id: before.id,
    name: t.name.trim(),
    kind: t.kind,
    serial: t.serial.trim(),
    note: t.note.trim(),
    engines: number(t.engines),
    maxFeeds: number(t.maxFeeds),
    codecs: t.codecs,
    maxWidth: number(t.maxWidth),
    maxHeight: number(t.maxHeight),
    sizes: listOrAny(
      sizes.map((size) => {
        const [width, height] = size.split(/\s*[x×*]\s*/i).map(Number);
        return { width, height };
      }),
    ),
    frameRates: listOrAny(readRates(t.frameRates)),
    orientations: t.orientations,
    maxLumaPerS: number(t.maxLumaPerS, 1e6),
    sizeMultiple: Number(t.sizeMultiple),
    deinterlaces: t.deinterlaces === "yes",
    convertsFrameRate: t.convertsFrameRate === "yes",
    keyframesAtCuts: t.keyframesAtCuts,
    videoBps: { min: number(t.videoBps.min, 1e3), max: number(t.videoBps.max, 1e3), step: number(t.videoBps.step, 1e3) },
    audioMaxBps: number(t.audioMaxBps, 1e3),
    audioRatesHz: typedList(t.audioRatesHz).map((hz) => number(hz)),
    audioChannelsMax: number(t.audioChannelsMax),
    protocols: t.protocols,
    credentials: t.credentials,
    inputs: t.inputs.map((i) => ({ connector: i.connector, signals: parts(i.signals).map(readSignal) })),
    setBy: t.setBy,
    presets: parts(t.presets).map((preset) => readPreset(preset, before.presets)),
    recordings: t.recordings.map((r) => ({
      name: r.name.trim(),
      kind: r.kind,
      freeBytes: Math.round(number(r.freeBytes, GB)),
      maxFileBytes: r.maxFileBytes.trim() === "" ? null : Math.round(number(r.maxFileBytes, GB)),
    })),
    network: parts(t.network).map((line) => {
      const [, name = "", kind = ""] = /^(.*?):\s*(.*)$/.exec(line) ?? [];
      return { name, kind };
    }),
    reach:
      t.reach.driver === "standin"
        ? { driver: "standin", name: t.reach.name.trim() }
        : t.reach.driver === "http"
          ? { driver: "http", address: t.reach.address.trim() }
          : { driver: "none" },
  };
}

/** Fields in which a whole list is typed: their fault says how it is written. */
const howWritten: Record<string, string> = {
  sizes: "Write sizes as 1920×1080, 1280×720, or nothing for any.",
  frameRates: "Write frame rates as 25, 29.97, 50, or nothing for any.",
  signals: "Write each signal as 1920×1080 p 25 50, with semicolons between, or nothing for any.",
  presets: "Write each as Chapel: 1280×720 25 2500, with semicolons between.",
  network: "Write each as Modem 1: modem (or wired, wi-fi), with semicolons between.",
  audioRatesHz: "Write sample rates as 44100, 48000.",
};

/** Everything that keeps what is typed from being an encoder, each at its field. */
export function encoderFaults(t: TypedEncoder, before: Encoder): TypedFault[] {
  const parsed = encoder.safeParse(fromTypedEncoder(t, before));
  if (parsed.success) return [];
  return parsed.error.issues.map((issue) => {
    const list = issue.path.map(String).find((name) => name in howWritten);
    const shown = (value: number) => {
      const field = issue.path.map(String).find((name) => /Bps$|Bytes$|Luma/.test(name)) ?? "";
      return String(
        field.endsWith("Bps") ? value / 1e3 : field.endsWith("Bytes") ? value / GB : field.includes("Luma") ? value / 1e6 : value,
      );
    };
    return { path: issue.path, message: howWritten[list ?? ""] ?? issueText(issue, shown) };
  });
}

/** The encoder that is typed; null while something keeps it from being one. */
export function typedEncoder(t: TypedEncoder, before: Encoder): Encoder | null {
  const parsed = encoder.safeParse(fromTypedEncoder(t, before));
  return parsed.success ? parsed.data : null;
}

/** What a new encoder begins with: an ordinary one, so that only what differs is typed. */
export const plainEncoder: Encoder = encoder.parse({
  format: "ukaza-encoder",
  version: 1,
  id: "new",
  name: "New encoder",
  kind: "hardware",
  engines: 1,
  maxFeeds: 1,
  codecs: [{ codec: "h264", profiles: ["main", "high"], maxLevel: "4.2" }],
  maxWidth: 1920,
  maxHeight: 1080,
  maxLumaPerS: 124_416_000,
  videoBps: { min: 500_000, max: 15_000_000, step: 100_000 },
  audioMaxBps: 256_000,
  protocols: ["rtmp", "rtmps"],
  setBy: "two fields",
  reach: { driver: "none" },
});
