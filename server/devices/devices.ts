import { createHash, randomBytes } from "node:crypto";
import {
  DEVICE_GRANT,
  type DeviceAuthorization,
  deviceAsk,
  type TokenGranted,
  type TokenRefused,
  tokenAsk,
} from "@ukaza/contract/deviceCode";
import { Refusal, readAs } from "@ukaza/contract/problem";
import type { EncoderHeld } from "@ukaza/contract/standins";
import { type DeviceGrant, isExpired, newGrant, pollGrant, shownCode, typedCode } from "@ukaza/core/rig/deviceCode";
import type { Db } from "../db/open";
import { queries } from "../db/queries";

const q = queries(__dirname);
const EXPIRES_S = 600;
const INTERVAL_S = 2;
/** More than a crew could have waiting; a device that asks in a loop must not fill the memory. */
const MOST_WAITING = 50;

/** An encoder that waits for its code to be approved. `clientId` is its serial number. */
export type WaitingDevice = DeviceGrant & { encoderId: string | null };

const hashOf = (token: string) => createHash("sha256").update(token).digest("hex");

/** Encoders that ask to be set from here by a short code (RFC 8628), and what each is to hold. */
export class Devices {
  private grants: WaitingDevice[] = [];
  private readonly wanted = new Map<string, { config: EncoderHeld; fetched: () => void }>();

  constructor(
    private readonly db: Db,
    private readonly now: () => Date,
  ) {}

  /** RFC 8628 §3.1 and §3.2. `origin`: how the device reached this server. */
  authorize(body: unknown, origin: string): DeviceAuthorization {
    const { client_id } = readAs(deviceAsk, body, "request");
    const nowMs = this.now().getTime();
    this.grants = this.grants.filter((g) => !isExpired(g, nowMs) && g.clientId !== client_id);
    if (this.grants.length >= MOST_WAITING)
      throw new Refusal(429, "too-many-waiting", "too many devices wait for their codes", "Wait ten minutes and ask again.");
    const deviceCode = randomBytes(24).toString("base64url");
    const asked = { deviceCode, clientId: client_id, issuedMs: nowMs, expiresS: EXPIRES_S, intervalS: INTERVAL_S };
    const grant: WaitingDevice = { ...newGrant(asked, randomBytes(64)), encoderId: null };
    this.grants.push(grant);
    const code = shownCode(grant.userCode);
    return {
      device_code: grant.deviceCode,
      user_code: code,
      verification_uri: `${origin}/kit/code`,
      verification_uri_complete: `${origin}/kit/code?code=${code}`,
      expires_in: EXPIRES_S,
      interval: INTERVAL_S,
    };
  }

  /** RFC 8628 §3.4 and §3.5. */
  async token(body: unknown): Promise<TokenGranted | TokenRefused> {
    if ((body as { grant_type?: unknown } | undefined)?.grant_type !== DEVICE_GRANT) return { error: "unsupported_grant_type" };
    const asked = tokenAsk.safeParse(body);
    if (!asked.success) return { error: "invalid_request" };
    const found = this.grants.find((g) => g.deviceCode === asked.data.device_code && g.clientId === asked.data.client_id);
    if (!found) return { error: "invalid_grant" };
    const { grant, answer } = pollGrant(found, this.now().getTime());
    Object.assign(found, grant);
    if (answer !== "granted" || found.encoderId === null) return { error: answer === "granted" ? "authorization_pending" : answer };
    this.grants = this.grants.filter((g) => g !== found);
    const token = randomBytes(24).toString("base64url");
    await this.db.query(q("save"), [found.encoderId, hashOf(token), this.now().toISOString()]);
    return { access_token: token, token_type: "Bearer" };
  }

  /** The device that shows a code; throws when none waits with it. */
  waitingWith(code: string): WaitingDevice {
    const nowMs = this.now().getTime();
    const found = this.grants.find((g) => g.userCode === typedCode(code) && g.state === "pending" && !isExpired(g, nowMs));
    if (!found)
      throw new Refusal(
        404,
        "no-such-code",
        "no encoder waits with this code",
        "Compare it with the encoder's screen; it runs out after ten minutes.",
      );
    return found;
  }

  decide(code: string, encoderId: string, approved: boolean): void {
    Object.assign(this.waitingWith(code), { state: approved ? "approved" : "denied", encoderId });
  }

  async isPaired(encoderId: string): Promise<boolean> {
    return (await this.db.query(q("paired"), [encoderId])).rows.length > 0;
  }

  /** What the bearer of a token is to hold; null: nothing yet. */
  async configFor(authorization: string | undefined): Promise<EncoderHeld | null> {
    const token = /^Bearer (.+)$/.exec(authorization ?? "")?.[1] ?? "";
    const [row] = (await this.db.query<{ encoderId: string }>(q("byToken"), [hashOf(token)])).rows;
    if (!row)
      throw new Refusal(
        401,
        "not-let-in",
        "this encoder may not be set from here",
        "Ask for a code on the encoder and approve it under Kit.",
      );
    const wanted = this.wanted.get(row.encoderId);
    wanted?.fetched();
    return wanted?.config ?? null;
  }

  /** Lays out what an encoder is to hold and waits until it has come for it. */
  async layOut(encoderId: string, config: EncoderHeld, patienceMs: number): Promise<void> {
    const came = new Promise<boolean>((resolve) => {
      const timer = setTimeout(() => resolve(false), patienceMs);
      this.wanted.set(encoderId, {
        config,
        fetched: () => {
          clearTimeout(timer);
          resolve(true);
        },
      });
    });
    if (!(await came))
      throw new Refusal(
        504,
        "not-fetched",
        "the encoder has not come for its settings",
        "Check that it is switched on and reaches this server; it takes them as soon as it asks.",
      );
  }
}
