import { z } from "zod";
import { encoder } from "./encoder";
import { ruleSheet } from "./ruleSheet";
import { codec, content, settings, settingsPatch, source } from "./settings";
import { bps, fileVersion, frameRate, id, ratio } from "./units";

export const fitUplink = z.strictObject({
  id,
  usableBps: bps,
  rttMs: z.number().min(0).optional(),
  lossRatio: ratio.optional(),
});

export const backupFrom = z.enum(["same encoder", "another encoder"]);

export const fitDestination = z.strictObject({
  id,
  sheet: ruleSheet,
  weight: z.number().int().min(1).max(5).default(3),
  must: z.boolean().default(true),
  /** Whether a second feed repeats the main one, over another uplink where there is one. */
  backup: z.boolean().default(false),
  backupFrom: backupFrom.default("same encoder"),
  /** What stays as it is: the user's own choices, or what is frozen once public. */
  fixed: settingsPatch.default({}),
  /** Uplinks that carry none of its feeds. */
  notOver: z.array(id).max(4).default([]),
  /** The only encoder its main feed may come from; null: any. */
  onlyFrom: id.nullable().default(null),
  /** Takes one feed and passes it on unchanged; it has no viewers of its own and is sent to only where it passes something on. */
  relay: z.boolean().default(false),
  /** A relay that may pass its feed on to this destination, instead of a feed of its own; `only`: there is no other way. */
  through: z
    .strictObject({ destinationId: id, only: z.boolean().default(false) })
    .nullable()
    .default(null),
  /** How many renditions are sent side by side, the main picture counted. */
  renditions: z.number().int().min(1).max(8).default(1),
});

/** Everything a fit is made from. Uplinks in order of preference: the first carries the main feed. */
export const fitProblem = z
  .strictObject({
    format: z.literal("ukaza-fit-problem").default("ukaza-fit-problem"),
    version: fileVersion.default(1),
    uplinks: z.array(fitUplink).min(1).max(4),
    encoders: z.array(encoder).min(1).max(6),
    destinations: z.array(fitDestination).min(1).max(12),
    source,
    content,
    /** Lets bitrates rise from the recommended value to the sheet's maximum. */
    allowMaximum: z.boolean().default(false),
  })
  .superRefine((p, context) => {
    const say = (path: (string | number)[], message: string) => context.addIssue({ code: "custom", path, message });
    for (const part of ["uplinks", "encoders", "destinations"] as const) {
      const seen = new Set<string>();
      p[part].forEach((one, i) => {
        if (seen.has(one.id)) say([part, i, "id"], `"${one.id}" stands here twice`);
        seen.add(one.id);
      });
    }
    p.destinations.forEach((d, i) => {
      const relay = p.destinations.find((r) => r.id === d.through?.destinationId);
      if (d.through && !relay?.relay) say(["destinations", i, "through"], `"${d.through.destinationId}" is no relay of this problem`);
      if (d.relay && d.through) say(["destinations", i, "through"], "a relay is not fed by another one");
      if (d.onlyFrom !== null && !p.encoders.some((e) => e.id === d.onlyFrom))
        say(["destinations", i, "onlyFrom"], `there is no encoder "${d.onlyFrom}" in this problem`);
      d.notOver.forEach((uplinkId, n) => {
        if (!p.uplinks.some((u) => u.id === uplinkId))
          say(["destinations", i, "notOver", n], `there is no uplink "${uplinkId}" in this problem`);
      });
      if (d.renditions > d.sheet.renditionsMax)
        say(["destinations", i, "renditions"], `${d.sheet.platform.name} takes ${d.sheet.renditionsMax} rendition(s) at most`);
    });
  });

export const score = z.strictObject({
  q: z.number(),
  fidelity: z.number(),
  detail: z.number(),
  motion: z.number(),
});

export const fitFeed = z.strictObject({
  role: z.enum(["main", "backup"]),
  encoderId: id,
  uplinkId: id,
  loadBps: bps,
});

export const limit = z.enum(["uplink", "backup-uplink", "sheet", "encoder", "source", "level"]);

/** One way to serve a destination. `bound` is what keeps its bitrate from rising one step more. */
export const plan = z.strictObject({
  destinationId: id,
  settings,
  score,
  feeds: z.array(fitFeed),
  bound: limit,
});

export const fitAnswer = z.discriminatedUnion("kind", [
  z.strictObject({
    kind: z.literal("fit"),
    best: plan,
    alternatives: z.array(plan),
    /** Modes that do not fit at all, with what stands in the way. */
    refused: z.array(z.strictObject({ width: z.number(), height: z.number(), frameRate, codec, by: limit, neededBps: bps })),
    /** What lifting one limit alone would add to the score. */
    gains: z.array(z.strictObject({ limit, q: z.number() })),
    oneMoreMbpsQ: z.number(),
    considered: z.number().int(),
  }),
  z.strictObject({
    kind: z.literal("none"),
    conflict: z.array(
      z.discriminatedUnion("demand", [
        z.strictObject({ demand: z.literal("uplink"), uplinkId: id, usableBps: bps, neededBps: bps }),
        z.strictObject({ demand: z.literal("encoder"), what: z.string() }),
        z.strictObject({ demand: z.literal("protocol"), sheet: z.array(z.string()), encoder: z.array(z.string()) }),
        z.strictObject({ demand: z.literal("backup"), why: z.enum(["not-offered", "no-room"]) }),
      ]),
    ),
  }),
]);

/** The best settings while one uplink carries at least `fromBps` (bit/s at the IP layer), the other uplinks as they are. */
export const stepDown = z.strictObject({
  fromBps: bps,
  settings,
  q: z.number(),
  mainUplinkId: id,
  backupUplinkId: id.nullable(),
});

export type StepDown = z.infer<typeof stepDown>;
export type FitProblem = z.infer<typeof fitProblem>;
export type FitDestination = z.infer<typeof fitDestination>;
export type FitUplink = z.infer<typeof fitUplink>;
export type FitAnswer = z.infer<typeof fitAnswer>;
export type Plan = z.infer<typeof plan>;
export type Score = z.infer<typeof score>;
export type Limit = z.infer<typeof limit>;
