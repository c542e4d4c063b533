import { type RateUnit, rateUnits } from "./fileReading";

export type ColumnName =
  | "time"
  | "date"
  | "rate"
  | "rtt"
  | "jitter"
  | "loss"
  | "duration"
  | "layer"
  | "payload"
  | "floor"
  | "source"
  | "series"
  | "excluded";

export interface Column {
  name: ColumnName;
  /** As the file writes it. */
  title: string;
  /** What a number in it is multiplied by to give bit/s, ms, a ratio or seconds; null: the unit is not said. */
  factor: number | null;
  /** The title says that its times are UTC. */
  isUtc: boolean;
}

/** Names that a column goes by, without its unit, in lower case with single spaces. */
const names: Record<ColumnName, readonly string[]> = {
  time: [
    "time",
    "timestamp",
    "date time",
    "datetime",
    "date/time",
    "taken",
    "taken at",
    "when",
    "start",
    "start time",
    "measured at",
    "tested at",
  ],
  date: ["date", "day"],
  rate: [
    "rate",
    "upload",
    "up",
    "uplink",
    "speed",
    "bandwidth",
    "throughput",
    "bitrate",
    "bit rate",
    "upload speed",
    "upload rate",
    "uplink rate",
    "up speed",
  ],
  rtt: ["rtt", "ping", "latency", "round trip", "round trip time", "delay"],
  jitter: ["jitter"],
  loss: ["loss", "packet loss", "packetloss", "lost"],
  duration: ["duration", "seconds", "length"],
  layer: ["layer"],
  payload: ["udp payload bytes", "udp payload"],
  floor: ["floor", "at least"],
  source: ["source"],
  series: ["series"],
  excluded: ["excluded", "excluded because"],
};

const byName = new Map(Object.entries(names).flatMap(([name, all]) => all.map((word) => [word, name as ColumnName] as const)));

const rateWords: Record<string, RateUnit> = {
  bps: "bit/s",
  "bit/s": "bit/s",
  "bits/s": "bit/s",
  "b/s": "bit/s",
  kbps: "kb/s",
  "kbit/s": "kb/s",
  "kb/s": "kb/s",
  mbps: "Mb/s",
  "mbit/s": "Mb/s",
  "mb/s": "Mb/s",
  gbps: "Gb/s",
  "gbit/s": "Gb/s",
  "gb/s": "Gb/s",
};

const factors: Partial<Record<ColumnName, Record<string, number>>> = {
  rtt: { ms: 1, msec: 1, s: 1000, us: 0.001 },
  jitter: { ms: 1, msec: 1, s: 1000, us: 0.001 },
  loss: { "%": 0.01, pct: 0.01, percent: 0.01, ratio: 1 },
  duration: { s: 1, sec: 1, seconds: 1, ms: 0.001, min: 60 },
};
const usual: Partial<Record<ColumnName, number>> = { rtt: 1, jitter: 1, loss: 0.01, duration: 1 };

/** What a first-line entry means: its column and unit; null: nothing known. "MB/s" may be bytes or bits, so its unit is left open. */
export function columnOf(title: string): Column | null {
  const bracket = /^(.*?)[\s_]*[([]\s*([^)\]]+?)\s*[)\]]\s*$/.exec(title);
  const plain = (bracket?.[1] ?? title).trim().replaceAll("_", " ").replace(/\s+/g, " ");
  const lower = plain.toLowerCase();
  const whole = byName.get(lower);
  const unitOrZone = bracket?.[2] ?? "";
  if (whole) return { name: whole, title, factor: factorOf(whole, unitOrZone), isUtc: /^(utc|gmt|z)$/i.test(unitOrZone) };
  const cut = lower.lastIndexOf(" ");
  const name = byName.get(lower.slice(0, cut));
  const unit = plain.slice(cut + 1);
  if (cut < 0 || !name || bracket) return null;
  const factor = factorOf(name, unit);
  const isUtc = name === "time" && /^(utc|gmt)$/i.test(unit);
  const known = isUtc || (factor !== null && (name in factors || name === "rate")) || (name === "rate" && unit.toLowerCase() in rateWords);
  return known ? { name, title, factor, isUtc } : null;
}

function factorOf(name: ColumnName, unit: string): number | null {
  if (name === "rate") {
    // A capital B stands for bytes with some and for bits with others.
    if (/B/.test(unit)) return null;
    const word = rateWords[unit.toLowerCase()];
    return word ? rateUnits[word] : null;
  }
  const own = factors[name];
  if (!own) return 1;
  return unit === "" ? (usual[name] ?? 1) : (own[unit.toLowerCase()] ?? null);
}
