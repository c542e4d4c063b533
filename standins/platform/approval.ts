import { randomBytes } from "node:crypto";
import {
  DEVICE_GRANT,
  type DeviceAuthorization,
  deviceAsk,
  type TokenGranted,
  type TokenRefused,
  tokenAsk,
} from "@ukaza/contract/deviceCode";
import { Refusal, readAs } from "@ukaza/contract/problem";
import { type DeviceGrant, isExpired, newGrant, pollGrant, shownCode, typedCode } from "@ukaza/core/rig/deviceCode";
import type { Express, Request, Response } from "express";
import { html, page } from "../shared/page";
import type { Store } from "../shared/store";
import type { PlatformMemory } from "./platform";

const EXPIRES_S = 600;
/** The person who approves sits beside the one who waits: a second is polite enough on one machine. */
const INTERVAL_S = 1;

/** Lets other programs in by a short code that a person approves on the platform's page (RFC 8628). */
export class Approval {
  constructor(
    private readonly memory: Store<PlatformMemory>,
    private readonly origin: () => string,
  ) {}

  ask(body: unknown, nowMs: number): DeviceAuthorization {
    const { client_id } = readAs(deviceAsk, body, "request");
    const deviceCode = randomBytes(24).toString("base64url");
    const grant = newGrant(
      { deviceCode, clientId: client_id, issuedMs: nowMs, expiresS: EXPIRES_S, intervalS: INTERVAL_S },
      randomBytes(64),
    );
    this.keep([...this.memory.value.grants.filter((g) => !isExpired(g, nowMs)), grant]);
    const approvePage = `http://${this.origin()}/approve`;
    return {
      device_code: grant.deviceCode,
      user_code: shownCode(grant.userCode),
      verification_uri: approvePage,
      verification_uri_complete: `${approvePage}?code=${shownCode(grant.userCode)}`,
      expires_in: EXPIRES_S,
      interval: INTERVAL_S,
    };
  }

  token(body: unknown, nowMs: number): TokenGranted | TokenRefused {
    if ((body as { grant_type?: unknown } | undefined)?.grant_type !== DEVICE_GRANT) return { error: "unsupported_grant_type" };
    const asked = tokenAsk.safeParse(body);
    if (!asked.success) return { error: "invalid_request" };
    const { grants, tokens } = this.memory.value;
    const found = grants.find((g) => g.deviceCode === asked.data.device_code && g.clientId === asked.data.client_id);
    if (!found) return { error: "invalid_grant" };
    const { grant, answer } = pollGrant(found, nowMs);
    // A code is good for one token (RFC 8628 §3.5 with RFC 6749 §4.1.2).
    this.keep(answer === "granted" ? grants.filter((g) => g !== found) : grants.map((g) => (g === found ? grant : g)));
    if (answer !== "granted") return { error: answer };
    const token = randomBytes(24).toString("base64url");
    this.memory.value.tokens = [...tokens, token];
    this.memory.save();
    return { access_token: token, token_type: "Bearer" };
  }

  decide(code: string, decision: "approved" | "denied", nowMs: number): boolean {
    const { grants } = this.memory.value;
    const found = grants.find((g) => g.userCode === typedCode(code) && g.state === "pending" && !isExpired(g, nowMs));
    if (found) this.keep(grants.map((g) => (g === found ? { ...g, state: decision } : g)));
    return found !== undefined;
  }

  /** Throws unless the request bears a token that was given out. */
  mustBeLetIn(authorization: string | undefined): void {
    const token = /^Bearer (.+)$/.exec(authorization ?? "")?.[1] ?? "";
    if (!this.memory.value.tokens.includes(token))
      throw new Refusal(
        401,
        "not-let-in",
        "this program has not been let in",
        "Ask for a code and have it approved on the platform's page.",
      );
  }

  private keep(grants: DeviceGrant[]): void {
    this.memory.value.grants = grants;
    this.memory.save();
  }

  /** The doors of RFC 8628 and the page on which a person approves. */
  mount(app: Express, name: string): void {
    app.post("/oauth/device_authorization", (request, response) => void response.json(this.ask(request.body, Date.now())));
    app.post("/oauth/token", (request, response) => {
      const answer = this.token(request.body, Date.now());
      response
        .status("error" in answer ? 400 : 200)
        .set("cache-control", "no-store")
        .json(answer);
    });
    const show = (response: Response, body: string) => void response.type("html").send(page(`${name}: let a program in`, body));
    const form = (code: string) => `<form method="post" action="/approve"><label for="code">The code that the program shows</label>
<input id="code" name="code" value="${html(code)}" autocomplete="off"><p>It will be able to create broadcasts, make them public and end them.</p>
<button name="decision" value="approved">Let it in</button><button name="decision" value="denied">Refuse it</button></form>`;
    app.get("/approve", (request: Request, response) => show(response, form(String(request.query.code ?? ""))));
    app.post("/approve", (request: Request, response) => {
      const { code = "", decision = "" } = (request.body ?? {}) as Record<string, string>;
      const known = this.decide(String(code), decision === "approved" ? "approved" : "denied", Date.now());
      if (!known) response.status(404);
      show(
        response,
        known
          ? `<p role="status">${decision === "approved" ? "It has been let in." : "It has been refused."}</p>`
          : `<p role="alert">No program waits with this code. It may have run out; ask for another.</p>${form("")}`,
      );
    });
  }
}
