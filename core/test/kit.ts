import { readFileSync } from "node:fs";
import { join } from "node:path";
import type { Sample } from "@ukaza/contract/air";
import { encoder } from "@ukaza/contract/encoder";
import type { PlanChoice } from "@ukaza/contract/eventPlan";
import { type FitProblem, fitProblem } from "@ukaza/contract/fit";
import { platformFile } from "@ukaza/contract/library";
import type { Settings } from "@ukaza/contract/settings";
import type { Credentials } from "@ukaza/contract/standins";
import type { Measurement, Sustainable } from "@ukaza/contract/survey";
import type { Uplink } from "@ukaza/contract/venue";
import { solve } from "../fit/plan/solve";
import { plannedOf } from "../fit/planFrom";

const demo = (path: string): unknown => JSON.parse(readFileSync(join(__dirname, "../../demo", path), "utf8"));

const sheetNames = ["oriel-public", "parishboard", "tallgate", "halyard-relay", "any-server"] as const;
const kitNames = ["desk-encoder", "rack-two-way", "field-pack", "pocket-encoder", "six-way-receiver"] as const;
const byName = <N extends string, T>(names: readonly N[], read: (name: N) => T) =>
  Object.fromEntries(names.map((name) => [name, read(name)])) as Record<N, T>;

/** Every sheet and every encoder that ships, by id. */
export const shippedSheets = byName(sheetNames, (name) => platformFile.parse(demo(`platforms/${name}.json`)).sheet);
export const shippedKit = byName(kitNames, (name) => encoder.parse(demo(`kit/${name}.json`)));
export const oriel = shippedSheets["oriel-public"];
export const desk = shippedKit["desk-encoder"];

export const settings: Settings = {
  codec: "h264",
  profile: "high",
  width: 1920,
  height: 1080,
  frameRate: "25",
  videoBps: 5_000_000,
  rateControl: "constant",
  keyframeS: 2,
  bFrames: 2,
  audioBps: 128_000,
  audioHz: 48_000,
  audioChannels: 2,
  protocol: "rtmp",
};

/** A problem over one uplink, or two when a backup is wanted. */
export function problem(usableBps: number[], more: Partial<FitProblem> & { backup?: boolean } = {}): FitProblem {
  const { backup = false, ...rest } = more;
  return fitProblem.parse({
    uplinks: usableBps.map((bps, i) => ({ id: `line-${i + 1}`, usableBps: bps })),
    encoders: [desk],
    destinations: [{ id: "oriel", sheet: oriel, backup }],
    source: { width: 1920, height: 1080, frameRate: "50", scan: "progressive" },
    content: "stage",
    ...rest,
  });
}

/** A second of a feed with which all is well: 5 Mb/s of 5 Mb/s. */
export function goodSample(feedId: string, at: string, more: Partial<Sample> = {}): Sample {
  return {
    feedId,
    at,
    targetBps: 5e6,
    sentBps: 5e6,
    receivedBps: 5e6,
    framesEncoded: 25,
    framesDropped: 0,
    frameRateHz: 25,
    encoderLoad: 0.5,
    queueMs: 0,
    rttMs: 20,
    retransmittedShare: 0,
    reconnects: 0,
    keyframeS: 2,
    audioDb: -20,
    pictureChange: 0.1,
    platform: "good",
    ...more,
  };
}

/** An uplink with nothing special about it. */
export const uplink = (more: Partial<Uplink> = {}): Uplink => ({
  id: "hall",
  name: "Hall fibre",
  kind: "wired",
  note: "",
  reserveOverride: null,
  metered: null,
  reserved: [],
  members: [],
  reflector: null,
  localAddress: null,
  eventId: null,
  ...more,
});

/** A well measured uplink's verdict. */
export const verdict = (more: Partial<Sustainable> = {}): Sustainable => ({
  evidence: "interval",
  basis: "tests",
  total: 41,
  nearShow: 31,
  used: 31,
  sameKindOfDay: null,
  allHours: false,
  aged: 0,
  floors: 0,
  excluded: 0,
  outliersLow: 0,
  outliersHigh: 0,
  window: { fromMinute: 1080, untilMinute: 1380 },
  reservedBps: 0,
  sustainableBps: 12.4e6,
  ruleReserve: 0.2,
  reserve: 0.2,
  usableBps: 9.92e6,
  next: null,
  ...more,
});

let counter = 0;
/** A measurement at an instant, in Mb/s at the IP layer. */
export function measured(takenAt: string, mbps: number, more: Partial<Measurement> = {}): Measurement {
  return {
    id: `m-${++counter}`,
    uplinkId: "line",
    takenAt,
    durationS: 10,
    rateBps: mbps * 1e6,
    layer: "ip",
    floor: false,
    source: "csv",
    ...more,
  };
}

/** Nothing said beside address and key. */
export const unsaid: Credentials = { login: null, passphrase: null, streamId: null, userAgent: null };

/** The best plan of a problem as the app would send it; `change`: other settings for the destination that leads. */
export function bestChoice(asked: FitProblem | null, change: Partial<Settings> = {}): { choice: PlanChoice; settings: Settings } {
  const answer = asked && solve(asked);
  if (answer?.kind !== "fit") throw new Error(`no fit: ${JSON.stringify(answer)}`);
  const destinations = plannedOf(answer.plan);
  const [lead] = destinations;
  if (!lead?.settings) throw new Error("the leading destination is not served");
  const own = { ...lead.settings, ...change };
  const changed = destinations.map((d) => (d === lead ? { ...d, settings: own } : d));
  return { choice: { name: "Plan 1", destinations: changed, despite: false }, settings: own };
}
