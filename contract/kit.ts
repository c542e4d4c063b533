import { z } from "zod";
import { encoder } from "./encoder";
import { id, instant, title } from "./units";

/** One event's claim on an encoder: planned by the event, checked out for it, or both. */
export const kitUse = z.strictObject({
  encoderId: id,
  eventId: id,
  eventName: title,
  venueName: title,
  timeZone: z.string(),
  /** From rigging to packing up. */
  from: instant,
  until: instant,
  /** The event's own encoder; else a spare that was taken along. */
  planned: z.boolean(),
  out: z.strictObject({ at: instant, by: title }).nullable(),
});

/** Two events that claim one encoder for the same hours. */
export const doubleBooking = z.strictObject({ encoderId: id, a: kitUse, b: kitUse, from: instant, until: instant });

/** An encoder as the list of kit shows it. */
export const kitItem = z.strictObject({
  encoder,
  uses: z.array(kitUse),
  doubles: z.array(doubleBooking),
});

/** Takes an encoder along to an event. `despite`: although another event claims it for the same hours. */
export const checkOut = z.strictObject({ eventId: id, by: title, despite: z.boolean().default(false) });

export const checkIn = z.strictObject({ eventId: id, by: title });

export type KitUse = z.infer<typeof kitUse>;
export type DoubleBooking = z.infer<typeof doubleBooking>;
export type KitItem = z.infer<typeof kitItem>;
