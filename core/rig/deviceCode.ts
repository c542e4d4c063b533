import type { TokenRefused } from "@ukaza/contract/deviceCode";

/** RFC 8628 §6.1: letters without vowels, so that no word comes of them, and none that look alike. */
const LETTERS = "BCDFGHJKLMNPQRSTVWXZ";
const CODE_LENGTH = 8;
/** RFC 8628 §3.5: what a device that asks too often must wait longer, seconds. */
export const SLOW_DOWN_S = 5;

/** One asking for access, as the side keeps it that grants it. Times in ms since the epoch. */
export interface DeviceGrant {
  deviceCode: string;
  /** As it is typed, without the hyphen. */
  userCode: string;
  clientId: string;
  issuedMs: number;
  expiresS: number;
  intervalS: number;
  polledMs: number | null;
  state: "pending" | "approved" | "denied";
}

/** A code for people, made of random bytes; at least eight are needed. */
export function userCodeOf(random: Uint8Array): string {
  // 256 is not a multiple of 20: what lies over the last whole round is passed over, or some letters would come oftener.
  const even = [...random].filter((byte) => byte < 240).slice(0, CODE_LENGTH);
  if (even.length < CODE_LENGTH) throw new RangeError("not enough random bytes for a code");
  return even.map((byte) => LETTERS[byte % LETTERS.length]).join("");
}

/** A new asking for access. `random`: 64 random bytes for the code. */
export function newGrant(
  given: Pick<DeviceGrant, "deviceCode" | "clientId" | "issuedMs" | "expiresS" | "intervalS">,
  random: Uint8Array,
): DeviceGrant {
  return { ...given, userCode: userCodeOf(random), polledMs: null, state: "pending" };
}

/** "WDJBMJHT" as "WDJB-MJHT". */
export const shownCode = (userCode: string): string => `${userCode.slice(0, 4)}-${userCode.slice(4)}`;

/** What a person typed, as codes are kept: letters only, capitals. */
export const typedCode = (text: string): string => text.toUpperCase().replace(/[^A-Z]/g, "");

export const isExpired = (grant: DeviceGrant, nowMs: number): boolean => nowMs >= grant.issuedMs + grant.expiresS * 1000;

/** The answer to a device that asks whether it has been let in (RFC 8628 §3.5), and the grant as it then stands. */
export function pollGrant(grant: DeviceGrant, nowMs: number): { grant: DeviceGrant; answer: "granted" | TokenRefused["error"] } {
  const polled = { ...grant, polledMs: nowMs };
  if (grant.state === "denied") return { grant: polled, answer: "access_denied" };
  if (isExpired(grant, nowMs)) return { grant: polled, answer: "expired_token" };
  if (grant.state === "approved") return { grant: polled, answer: "granted" };
  // Half a second of slack: a timer that fires a little early is no rudeness.
  const early = grant.polledMs !== null && nowMs - grant.polledMs < grant.intervalS * 1000 - 500;
  if (early) return { grant: { ...polled, intervalS: grant.intervalS + SLOW_DOWN_S }, answer: "slow_down" };
  return { grant: polled, answer: "authorization_pending" };
}

/** What a device does after an answer: ask again in so many seconds, or give up. */
export function afterRefusal(error: TokenRefused["error"], intervalS: number): { again: number } | { ended: "denied" | "expired" } {
  if (error === "authorization_pending") return { again: intervalS };
  if (error === "slow_down") return { again: intervalS + SLOW_DOWN_S };
  return { ended: error === "access_denied" ? "denied" : "expired" };
}
