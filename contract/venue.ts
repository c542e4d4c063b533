import { z } from "zod";
import { bps, fileVersion, id, ratio, timeZone, title } from "./units";

export const uplinkKind = z.enum(["wired", "wi-fi", "cellular", "satellite", "bonded"]);

/** A time on the venue's wall clock, "19:30". */
export const clockTime = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, "write a time of day as 19:30");

const gigabytes = z.number().min(0).max(1_000_000);

/** What a metered line gives and costs, in decimal gigabytes and the crew's own currency. */
export const metered = z.strictObject({
  allowanceGb: gigabytes.nullable().default(null),
  usedGb: gigabytes.default(0),
  pricePerGb: z.number().min(0).max(100_000).nullable().default(null),
});

/** What others on the line are to have during some hours of the day; `until` before `from` passes midnight. */
export const reservedHours = z.strictObject({
  from: clockTime,
  until: clockTime,
  rateBps: bps.min(1),
  note: z.string().max(200).default(""),
});

const noteText = z.string().max(500).default("");

const uplinkShape = z.strictObject({
  id,
  name: title,
  kind: uplinkKind,
  note: noteText,
  /** Overrides the reserve that the evidence asks for; null leaves it. */
  reserveOverride: ratio.max(0.9).nullable().default(null),
  metered: metered.nullable().default(null),
  reserved: z.array(reservedHours).max(24).default([]),
  /** Ids of the uplinks that a bonded group is made of. */
  members: z.array(id).max(12).default([]),
  /** Where the built-in test of this uplink sends to; null: there is none, or the stand-in line knows. */
  reflector: z
    .string()
    .regex(/^(\[[0-9a-fA-F:]+\]|[^\s:[\]]+):\d{1,5}$/, "write host and port as reflector.example:4320")
    .nullable()
    .default(null),
  /** This machine's own address on the uplink, so that the test leaves by it; null: the system's way out. */
  localAddress: z.union([z.ipv4(), z.ipv6()]).nullable().default(null),
  /** An uplink that one event brought along; null: the venue's own. */
  eventId: id.nullable().default(null),
});

type Shape = { kind: z.infer<typeof uplinkKind>; members: string[] };
const membersFit = (u: Shape) => (u.kind === "bonded" ? new Set(u.members).size >= 2 : u.members.length === 0);
const membersMessage = { path: ["members"], message: "a bonded group has two members or more, any other uplink has none" };

export const uplink = uplinkShape.refine(membersFit, membersMessage);

/** What a person writes about an uplink; its id is made of its name. */
export const uplinkBody = uplinkShape.omit({ id: true, eventId: true, reserveOverride: true }).refine(membersFit, membersMessage);

export const venueBody = z.strictObject({ name: title, timeZone, note: noteText });

export const venue = z.strictObject({
  format: z.literal("ukaza-venue"),
  version: fileVersion,
  id,
  ...venueBody.shape,
  uplinks: z.array(uplink).max(20),
});

/** A venue as the list shows it. */
export const venueListed = z.strictObject({
  id: z.string(),
  name: z.string(),
  timeZone: z.string(),
  note: z.string(),
  uplinks: z.array(z.strictObject({ id: z.string(), name: z.string(), kind: uplinkKind, tests: z.number() })),
  events: z.number(),
});

export type Metered = z.infer<typeof metered>;
export type ReservedHours = z.infer<typeof reservedHours>;
export type Uplink = z.infer<typeof uplink>;
export type UplinkBody = z.infer<typeof uplinkBody>;
export type Venue = z.infer<typeof venue>;
export type VenueBody = z.infer<typeof venueBody>;
export type VenueListed = z.infer<typeof venueListed>;
