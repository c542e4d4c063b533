import type { AccountNow, DeviceAuthorization } from "@ukaza/contract/deviceCode";
import type { Reach } from "@ukaza/contract/encoder";
import { afterRefusal } from "@ukaza/core/rig/deviceCode";
import type { Logger } from "pino";
import type { Db } from "../db/open";
import { queries } from "../db/queries";
import type { Drivers } from "../drivers/drivers";
import type { Secrets } from "../secrets";

const q = queries(__dirname);

/** What a service is known by here: however many sheets there are of it, it lets in once. */
export const serviceOf = (reach: Reach): string | null =>
  reach.driver === "standin" ? reach.name : reach.driver === "http" ? reach.address : null;

interface Held {
  token: string;
  since: string;
}

interface Waiting {
  authorization: DeviceAuthorization;
  expiresMs: number;
  stop: () => void;
}

type Ended = (AccountNow & { state: "none" })["why"];

/** Tokens of the platforms that let this server in, and the asking for new ones by a code (RFC 8628). Tokens never leave the server. */
export class Accounts {
  private readonly held = new Map<string, Held>();
  private readonly waiting = new Map<string, Waiting>();
  private readonly ended = new Map<string, Ended>();

  constructor(
    private readonly db: Db,
    private readonly secrets: Secrets,
    private readonly log: Logger,
    private readonly now: () => Date,
  ) {}

  async load(): Promise<void> {
    const { rows } = await this.db.query<{ service: string; tokenSealed: string; since: Date }>(q("all"));
    for (const row of rows) this.held.set(row.service, { token: this.secrets.open(row.tokenSealed), since: row.since.toISOString() });
  }

  tokenFor(reach: Reach): string | null {
    return this.held.get(serviceOf(reach) ?? "")?.token ?? null;
  }

  /** Where it stands with a service; a code that was asked for and not yet approved is shown. */
  stateOf(reach: Reach): AccountNow {
    const service = serviceOf(reach);
    if (service === null) return { state: "by hand" };
    const waiting = this.waiting.get(service);
    if (waiting) {
      const { user_code, verification_uri, verification_uri_complete } = waiting.authorization;
      return {
        state: "waiting",
        userCode: user_code,
        page: verification_uri,
        pageWithCode: verification_uri_complete ?? verification_uri,
        expiresAt: new Date(waiting.expiresMs).toISOString(),
      };
    }
    const held = this.held.get(service);
    if (held) return { state: "connected", since: held.since };
    return { state: "none", why: this.ended.get(service) ?? "never" };
  }

  /** Asks the service for a code and goes on asking, as often as it allows, until somebody has decided. */
  async ask(reach: Reach, drivers: Drivers): Promise<void> {
    const service = serviceOf(reach);
    if (service === null) return;
    const driver = drivers.platform(reach);
    const authorization = await driver.askForCode();
    this.waiting.get(service)?.stop();
    let timer: NodeJS.Timeout | undefined;
    let stopped = false;
    const expiresMs = this.now().getTime() + authorization.expires_in * 1000;
    const done = (why: Ended | null) => {
      stopped = true;
      clearTimeout(timer);
      this.waiting.delete(service);
      if (why) this.ended.set(service, why);
    };
    const poll = async (intervalS: number) => {
      const answer = await driver.askForToken(authorization.device_code).catch(() => null);
      if (stopped) return;
      if (answer && "access_token" in answer) {
        // Kept first: a state of "connected" must outlive the next power cut.
        await this.keep(service, answer.access_token);
        return done(null);
      }
      const next = answer ? afterRefusal(answer.error, intervalS) : { again: intervalS };
      if ("ended" in next) return done(next.ended);
      if (this.now().getTime() > expiresMs) return done("expired");
      plan(next.again);
    };
    const plan = (intervalS: number) => {
      timer = setTimeout(() => {
        poll(intervalS).catch((error: unknown) => {
          this.log.error({ err: error }, "asking for an account failed");
          done("unreachable");
        });
      }, intervalS * 1000);
    };
    this.waiting.set(service, { authorization, expiresMs, stop: () => done(null) });
    plan(authorization.interval);
  }

  private async keep(service: string, token: string): Promise<void> {
    const since = this.now().toISOString();
    await this.db.query(q("save"), [service, this.secrets.seal(token), since]);
    this.held.set(service, { token, since });
    this.ended.delete(service);
  }

  /** Forgets a token, or stops asking for one. */
  async forget(reach: Reach): Promise<void> {
    const service = serviceOf(reach);
    if (service === null) return;
    this.waiting.get(service)?.stop();
    this.held.delete(service);
    this.ended.set(service, "withdrawn");
    await this.db.query(q("remove"), [service]);
  }

  stop(): void {
    for (const waiting of [...this.waiting.values()]) waiting.stop();
  }
}
