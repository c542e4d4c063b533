import { z } from "zod";

/** RFC 8628 §3.1: a device asks for a code. Sent as a form. */
export const deviceAsk = z.strictObject({ client_id: z.string().min(1).max(100), scope: z.string().max(200).optional() });

/** RFC 8628 §3.2. `expires_in` and `interval` in seconds. */
export const deviceAuthorization = z.object({
  device_code: z.string().min(16).max(200),
  user_code: z.string().min(6).max(20),
  verification_uri: z.url(),
  verification_uri_complete: z.url().optional(),
  expires_in: z.number().int().min(1),
  interval: z.number().int().min(1).default(5),
});

/** RFC 8628 §3.4. */
export const DEVICE_GRANT = "urn:ietf:params:oauth:grant-type:device_code";
export const tokenAsk = z.strictObject({
  grant_type: z.literal(DEVICE_GRANT),
  device_code: z.string().min(1).max(200),
  client_id: z.string().min(1).max(100),
});

/** RFC 6749 §5.1. */
export const tokenGranted = z.object({ access_token: z.string().min(16).max(500), token_type: z.literal("Bearer") });

/** RFC 8628 §3.5. */
export const tokenRefused = z.object({
  error: z.enum([
    "authorization_pending",
    "slow_down",
    "access_denied",
    "expired_token",
    "invalid_grant",
    "invalid_request",
    "unsupported_grant_type",
  ]),
});

/** Where the asking for an account stands. The token itself never leaves the server. */
export const accountNow = z.discriminatedUnion("state", [
  /** Nothing reaches the platform from here, so that there is nothing to connect. */
  z.strictObject({ state: z.literal("by hand") }),
  z.strictObject({ state: z.literal("none"), why: z.enum(["never", "denied", "expired", "unreachable", "withdrawn"]) }),
  z.strictObject({
    state: z.literal("waiting"),
    userCode: z.string(),
    page: z.url(),
    pageWithCode: z.url(),
    expiresAt: z.string(),
  }),
  z.strictObject({ state: z.literal("connected"), since: z.string() }),
]);

export type DeviceAuthorization = z.infer<typeof deviceAuthorization>;
export type TokenGranted = z.infer<typeof tokenGranted>;
export type TokenRefused = z.infer<typeof tokenRefused>;
export type AccountNow = z.infer<typeof accountNow>;
