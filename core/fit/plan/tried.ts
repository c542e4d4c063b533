import type { Profile, Protocol } from "@ukaza/contract/settings";

/** Profiles from the one that gains most of a bitrate to the one that gains least. */
export const profileOrder: readonly Profile[] = ["main10", "high", "main", "baseline"];

/**
 * Protocols worth trying: RTMPS sends the same over TCP with a record's header more, so wherever RTMP is spoken too it
 * never carries a higher bitrate and never wins a tie.
 */
export const withoutIdle = (spoken: readonly Protocol[]): Protocol[] => spoken.filter((p) => p !== "rtmps" || !spoken.includes("rtmp"));
