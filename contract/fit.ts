import { z } from "zod";
import { destinationDemands } from "./demands";
import { encoder } from "./encoder";
import { ruleSheet } from "./ruleSheet";
import { content, source } from "./settings";
import { bps, fileVersion, id, ratio } from "./units";

export const fitUplink = z.strictObject({
  id,
  usableBps: bps,
  rttMs: z.number().min(0).optional(),
  lossRatio: ratio.optional(),
});

export const fitDestination = z.strictObject({ id, sheet: ruleSheet, ...destinationDemands.shape });

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

export type FitProblem = z.infer<typeof fitProblem>;
export type FitDestination = z.infer<typeof fitDestination>;
export type FitUplink = z.infer<typeof fitUplink>;
export type Score = z.infer<typeof score>;
