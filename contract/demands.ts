import { z } from "zod";
import { settingsPatch } from "./settings";
import { id } from "./units";

export const backupFrom = z.enum(["same encoder", "another encoder"]);

/** What the crew asks of the fit for one destination. */
export const destinationDemands = z.strictObject({
  weight: z.number().int().min(1).max(5).default(3),
  must: z.boolean().default(true),
  /** Whether a second feed repeats the main one, over another uplink where there is one. */
  backup: z.boolean().default(false),
  backupFrom: backupFrom.default("same encoder"),
  /** What stays as it is: the crew's own choices, or what is frozen once public. */
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

export type DestinationDemands = z.infer<typeof destinationDemands>;
