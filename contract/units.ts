import { z } from "zod";

/** A short name used in addresses and files: lower-case letters, digits and hyphens. */
export const id = z
  .string()
  .min(1)
  .max(80)
  .regex(/^[a-z0-9][a-z0-9-]*$/, "use lower-case letters, digits and hyphens");

/** An instant, ISO 8601 with an offset or Z. */
export const instant = z.iso.datetime({ offset: true, message: "write a time as 2026-06-10T19:30:00+01:00" });

/** An IANA time zone name that this machine knows. */
export const timeZone = z.string().refine(
  (name) => {
    try {
      new Intl.DateTimeFormat("en", { timeZone: name });
      return true;
    } catch {
      return false;
    }
  },
  { message: "this is not the name of a time zone; write it as Region/City" },
);

/** Bits per second, whole and not negative, at most 10 Gb/s. */
export const bps = z.number().int().min(0).max(10_000_000_000);

/** A share from 0 to 1. */
export const ratio = z.number().min(0).max(1);

/** Frames per second as an exact fraction in words: "25", "50", "30000/1001". */
export const frameRate = z.string().regex(/^[1-9]\d{0,5}(\/[1-9]\d{0,3})?$/, 'write a frame rate as "25" or "30000/1001"');

/** A name that a person reads. */
export const title = z.string().trim().min(1).max(200).regex(/\S/, "give it a name");

export const px = z.number().int().min(16).max(16_384);

/** The version of our own files that is read and written. */
export const fileVersion = z.literal(1, { error: "this program reads version 1 of this format; ask for a file of that version" });
