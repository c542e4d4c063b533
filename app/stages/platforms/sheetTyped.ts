import { type RuleSheet, ruleSheet } from "@ukaza/contract/ruleSheet";
import { type ModeCells, modeCells, readModeCells } from "@ukaza/core/formats/modeRow";
import { issueText, type TypedFault, typedList, typedNumber } from "../../data/typedForm";

type Demand = "none" | "optional" | "required";

/** One protocol as it is typed. */
export interface TypedProtocol {
  protocol: "rtmp" | "rtmps" | "srt";
  defaultPort: string;
  otherPorts: string;
  separator: string;
  renditionSuffix: string;
  login: Demand;
  srtMode: "caller" | "listener";
  streamId: string;
  passphrase: Demand;
  userAgent: string;
}

type Wait = { typicalS: string; longestS: string };

/** A rule sheet as it is typed: built like the sheet, so that a fault of the sheet has its field; text at every end, kb/s for bitrates. */
export interface TypedSheet {
  platform: { name: string };
  source: { title: string; checkedOn: string; checkedBy: string };
  modes: ModeCells[];
  openModes: "no" | "yes";
  rateControls: string[];
  keyframe: { minS: string; recommendedS: string; maxS: string };
  keyframeFixed: "no" | "yes";
  bFramesMax: string;
  audio: { minBps: string; recommendedBps: string; maxBps: string; sampleRatesHz: string; channelsMax: string };
  protocols: TypedProtocol[];
  alsoTakes: string[];
  backup: "none" | "same" | "own";
  renditionsMax: string;
  regions: string;
  transcodes: "no" | "yes";
  keyLife: RuleSheet["keyLife"];
  lastingKeyOnRequest: "no" | "yes";
  latencyModes: string;
  listed: "no" | "yes" | "picture";
  listing: {
    titleMax: string;
    descriptionMax: string;
    picture: { minWidth: string; minHeight: string; aspect: string; maxBytes: string; types: string[] };
  };
  pricePerHour: string;
  lifecycle: {
    receive: Wait;
    verdict: Wait;
    previewed: "no" | "yes";
    preview: Wait;
    irreversible: string[];
    endsFirst: "platform" | "encoder";
    freezes: { preview: string[]; public: string[] };
  };
}

const yesNo = (value: boolean) => (value ? "yes" : "no");
const kbps = (bitrate: number | undefined) => (bitrate === undefined ? "" : String(bitrate / 1e3));
const text = (value: number | null | undefined) => (value === null || value === undefined ? "" : String(value));
const lines = (typed: string) =>
  typed
    .split(/[\n;]+/)
    .map((line) => line.trim())
    .filter(Boolean);

export const emptyProtocol: TypedProtocol = {
  protocol: "rtmp",
  defaultPort: "1935",
  otherPorts: "",
  separator: "/",
  renditionSuffix: "",
  login: "none",
  srtMode: "caller",
  streamId: "",
  passphrase: "none",
  userAgent: "",
};

export const emptyCells: ModeCells = {
  size: "",
  frameRates: "",
  minBps: "",
  recommendedBps: "",
  maxBps: "",
  codec: "H.264",
  profiles: "high main",
  maxLevel: "4.2",
};

const wait = (w: { typicalS: number; longestS: number }): Wait => ({ typicalS: String(w.typicalS), longestS: String(w.longestS) });

/** A sheet as it stands in the form. */
export function toTypedSheet(s: RuleSheet): TypedSheet {
  const frozen = (at: "preview" | "public") => s.lifecycle.freezes.filter((f) => f.at === at).flatMap((f) => f.fields);
  return {
    platform: { name: s.platform.name },
    source: { ...s.source },
    modes: s.modes.map(modeCells),
    openModes: yesNo(s.openModes),
    rateControls: s.rateControls,
    keyframe: { minS: String(s.keyframe.minS), recommendedS: String(s.keyframe.recommendedS), maxS: String(s.keyframe.maxS) },
    keyframeFixed: yesNo(s.keyframeFixed),
    bFramesMax: String(s.bFramesMax),
    audio: {
      minBps: kbps(s.audio.minBps),
      recommendedBps: kbps(s.audio.recommendedBps),
      maxBps: kbps(s.audio.maxBps),
      sampleRatesHz: s.audio.sampleRatesHz.join(", "),
      channelsMax: String(s.audio.channelsMax),
    },
    protocols: s.protocols.map((p) => ({
      ...p,
      defaultPort: String(p.defaultPort),
      otherPorts: p.otherPorts.join(", "),
      renditionSuffix: p.renditionSuffix ?? "",
      srtMode: p.srtMode ?? "caller",
      streamId: p.streamId ?? "",
      userAgent: p.userAgent ?? "",
    })),
    alsoTakes: s.alsoTakes,
    backup: s.backupIngest ? (s.backupSameSettings ? "same" : "own") : "none",
    renditionsMax: String(s.renditionsMax),
    regions: s.regions.map((r) => `${r.id}: ${r.name}`).join("; "),
    transcodes: yesNo(s.transcodes),
    keyLife: s.keyLife,
    lastingKeyOnRequest: yesNo(s.lastingKeyOnRequest),
    latencyModes: s.latencyModes.map((l) => `${l.name} ${l.delayS}`).join("; "),
    listed: s.listing ? (s.listing.picture ? "picture" : "yes") : "no",
    listing: {
      titleMax: text(s.listing?.titleMax),
      descriptionMax: text(s.listing?.descriptionMax),
      picture: {
        minWidth: text(s.listing?.picture?.minWidth),
        minHeight: text(s.listing?.picture?.minHeight),
        aspect: s.listing?.picture?.aspect ?? "16:9",
        maxBytes: s.listing?.picture ? String(s.listing.picture.maxBytes / 1e3) : "",
        types: s.listing?.picture?.types ?? ["jpeg"],
      },
    },
    pricePerHour: text(s.pricePerHour),
    lifecycle: {
      receive: wait(s.lifecycle.receive),
      verdict: wait(s.lifecycle.verdict),
      previewed: yesNo(s.lifecycle.preview !== null),
      preview: s.lifecycle.preview ? wait(s.lifecycle.preview) : { typicalS: "15", longestS: "60" },
      irreversible: [...(s.lifecycle.publicIrreversible ? ["public"] : []), ...(s.lifecycle.endIrreversible ? ["end"] : [])],
      endsFirst: s.lifecycle.endsFirst,
      freezes: { preview: frozen("preview"), public: frozen("public") },
    },
  };
}

const number = (typed: string, factor = 1) => typedNumber(typed, Number.NaN, factor);
const asWait = (w: Wait) => ({ typicalS: number(w.typicalS), longestS: number(w.longestS) });

/** "north: North Reach" as a region; one that is not so written is left for the schema to refuse. */
const asRegion = (line: string) => {
  const [, id = "", name = ""] = /^([^:]*):(.*)$/.exec(line) ?? [];
  return { id: id.trim(), name: name.trim() };
};

/** "normal 25" as a latency mode. */
const asLatency = (line: string) => {
  const [, name = "", delay = ""] = /^(.*?)\s+(\S+?)(?:\s*s)?$/.exec(line) ?? [];
  return { name, delayS: number(delay || "x") };
};

/** What is typed as a sheet's document, not yet held to its schema. `modes` are those that could be read. */
export function fromTypedSheet(t: TypedSheet, platformId: string, revision: number): unknown {
  const l = t.lifecycle;
  const optional = (typed: string) => typedNumber(typed, undefined, 1e3);
  const recommended = optional(t.audio.recommendedBps);
  const freezes = (["preview", "public"] as const).flatMap((at) => (l.freezes[at].length > 0 ? [{ at, fields: l.freezes[at] }] : []));
  const { picture } = t.listing;
  return {
    format: "ukaza-rule-sheet",
    version: 1,
    platform: { id: platformId, name: t.platform.name.trim() },
    revision,
    source: { title: t.source.title.trim(), checkedOn: t.source.checkedOn.trim(), checkedBy: t.source.checkedBy.trim() },
    modes: t.modes.flatMap((cells, i) => readModeCells(cells, i + 1).mode ?? []),
    openModes: t.openModes === "yes",
    rateControls: t.rateControls,
    keyframe: { minS: number(t.keyframe.minS), recommendedS: number(t.keyframe.recommendedS), maxS: number(t.keyframe.maxS) },
    keyframeFixed: t.keyframeFixed === "yes",
    bFramesMax: number(t.bFramesMax),
    audio: {
      codec: "aac",
      minBps: number(t.audio.minBps, 1e3),
      ...(recommended === undefined ? {} : { recommendedBps: recommended }),
      maxBps: number(t.audio.maxBps, 1e3),
      sampleRatesHz: typedList(t.audio.sampleRatesHz).map((hz) => number(hz)),
      channelsMax: number(t.audio.channelsMax),
    },
    protocols: t.protocols.map((p) => ({
      protocol: p.protocol,
      defaultPort: number(p.defaultPort),
      otherPorts: typedList(p.otherPorts).map((port) => number(port)),
      separator: p.separator,
      renditionSuffix: p.renditionSuffix.trim() || null,
      login: p.login,
      srtMode: p.protocol === "srt" ? p.srtMode : null,
      streamId: p.protocol === "srt" ? p.streamId.trim() || null : null,
      passphrase: p.protocol === "srt" ? p.passphrase : "none",
      userAgent: p.userAgent.trim() || null,
    })),
    alsoTakes: t.alsoTakes,
    backupIngest: t.backup !== "none",
    backupSameSettings: t.backup !== "own",
    renditionsMax: number(t.renditionsMax),
    regions: lines(t.regions).map(asRegion),
    transcodes: t.transcodes === "yes",
    keyLife: t.keyLife,
    lastingKeyOnRequest: t.lastingKeyOnRequest === "yes",
    latencyModes: lines(t.latencyModes).map(asLatency),
    listing:
      t.listed === "no"
        ? null
        : {
            titleMax: number(t.listing.titleMax),
            descriptionMax: number(t.listing.descriptionMax),
            picture:
              t.listed === "yes"
                ? null
                : {
                    minWidth: number(picture.minWidth),
                    minHeight: number(picture.minHeight),
                    aspect: picture.aspect.trim(),
                    maxBytes: number(picture.maxBytes, 1e3),
                    types: picture.types,
                  },
          },
    pricePerHour: typedNumber(t.pricePerHour, null),
    lifecycle: {
      receive: asWait(l.receive),
      verdict: asWait(l.verdict),
      preview: l.previewed === "yes" ? asWait(l.preview) : null,
      publicIrreversible: l.irreversible.includes("public"),
      endIrreversible: l.irreversible.includes("end"),
      endsFirst: l.endsFirst,
      freezes,
    },
  };
}

const howWritten: Record<string, string> = {
  regions: "Write each as north: North Reach, with semicolons between.",
  latencyModes: "Write each as normal 25, in seconds, with semicolons between.",
};

/** Everything that keeps what is typed from being a sheet, each at its field. */
export function sheetFaults(t: TypedSheet): TypedFault[] {
  const rows = t.modes.flatMap((cells, i): TypedFault[] => {
    const { faults } = readModeCells(cells, i + 1);
    return faults.length > 0 ? [{ path: ["modes", i, "size"], message: `${faults.join("; ")}.` }] : doubled(t.modes, i);
  });
  const parsed = ruleSheet.safeParse(fromTypedSheet(t, "typed", 1));
  const issues = parsed.success ? [] : parsed.error.issues;
  const others = issues.flatMap((issue): TypedFault[] => {
    const [top = "", ...rest] = issue.path;
    // Rows that can be read are as the schema wants them; that there is none is said when no row says why.
    if (top === "modes") return rows.length === 0 && rest.length === 0 ? [{ path: ["root"], message: "Give at least one mode." }] : [];
    const bitrate = String(issue.path.at(-1)).endsWith("Bps") || issue.path.at(-1) === "maxBytes";
    const message = howWritten[String(top)] ?? issueText(issue, (value) => String(bitrate ? value / 1e3 : value));
    return [{ path: issue.path, message }];
  });
  return [...rows, ...others];
}

/** The same size, codec and a frame rate in an earlier row: nobody could tell which of the two holds. */
function doubled(rows: readonly ModeCells[], i: number): TypedFault[] {
  const own = readModeCells(rows[i] as ModeCells, i).mode;
  const earlier = rows.findIndex((cells, j) => {
    const other = j < i ? readModeCells(cells, j).mode : null;
    return (
      other &&
      own &&
      other.width === own.width &&
      other.height === own.height &&
      other.codec === own.codec &&
      other.frameRates.some((rate) => own.frameRates.includes(rate))
    );
  });
  return earlier >= 0
    ? [{ path: ["modes", i, "size"], message: `Row ${earlier + 1} holds a frame rate of this size and codec already.` }]
    : [];
}

/** The sheet that is typed; null while something keeps it from being one. */
export function typedSheet(t: TypedSheet, platformId: string, revision: number): RuleSheet | null {
  if (sheetFaults(t).length > 0) return null;
  const parsed = ruleSheet.safeParse(fromTypedSheet(t, platformId, revision));
  return parsed.success ? parsed.data : null;
}
