import { DEVICE_GRANT, deviceAuthorization, tokenGranted, tokenRefused } from "@ukaza/contract/deviceCode";
import { Refusal } from "@ukaza/contract/problem";
import { encoderConfig } from "@ukaza/contract/standins";
import { afterRefusal } from "@ukaza/core/rig/deviceCode";
import type { Store } from "../shared/store";
import type { EncoderDevice, EncoderMemory } from "./encoder";

const FETCH_EVERY_MS = 1_000;
const PATIENCE_MS = 3_000;

type State =
  | { kind: "free" }
  | { kind: "waiting"; server: string; userCode: string }
  | { kind: "refused"; why: string }
  | { kind: "paired" };

/** Asks a server for a code (RFC 8628), shows it, and once it was approved there fetches its settings by itself. */
export class Pairing {
  private state: State;
  private round = 0;

  constructor(
    private readonly serial: string,
    private readonly device: EncoderDevice,
    private readonly memory: Store<EncoderMemory>,
  ) {
    this.state = memory.value.paired ? { kind: "paired" } : { kind: "free" };
    if (memory.value.paired) this.fetchOn(this.round);
  }

  now(): State {
    return this.state;
  }

  async begin(server: string): Promise<void> {
    const round = ++this.round;
    const base = server.trim().replace(/\/+$/, "");
    let asked: ReturnType<typeof deviceAuthorization.parse>;
    try {
      asked = deviceAuthorization.parse(await post(`${base}/api/device/authorization`, { client_id: this.serial }));
    } catch {
      throw new Refusal(
        502,
        "server-not-heard",
        `no code came from ${base}`,
        "Check the address; it is the one that the crew's phones use.",
      );
    }
    this.state = { kind: "waiting", server: base, userCode: asked.user_code };
    void this.poll(base, asked.device_code, asked.interval, round);
  }

  private async poll(server: string, deviceCode: string, intervalS: number, round: number): Promise<void> {
    let wait = intervalS;
    while (round === this.round) {
      await sleep(wait * 1000);
      const answer = await post(`${server}/api/device/token`, {
        grant_type: DEVICE_GRANT,
        device_code: deviceCode,
        client_id: this.serial,
      }).catch(() => null);
      const granted = tokenGranted.safeParse(answer);
      if (round !== this.round) return;
      if (granted.success) {
        this.memory.value.paired = { server, token: granted.data.access_token };
        this.memory.save();
        this.state = { kind: "paired" };
        return this.fetchOn(round);
      }
      const refused = tokenRefused.safeParse(answer);
      const next = refused.success ? afterRefusal(refused.data.error, wait) : { again: wait };
      if ("ended" in next) {
        this.state = { kind: "refused", why: next.ended === "denied" ? "The code was refused." : "The code has run out." };
        // Whoever set it before still does.
        return this.fetchOn(round);
      }
      wait = next.again;
    }
  }

  /** Asks again and again what it is to hold; takes what is new. */
  private async fetchOn(round: number): Promise<void> {
    let last = "";
    while (round === this.round && this.memory.value.paired) {
      const { server, token } = this.memory.value.paired;
      try {
        const answer = await fetch(`${server}/api/device/config`, {
          headers: { authorization: `Bearer ${token}` },
          signal: AbortSignal.timeout(PATIENCE_MS),
        });
        const text = await answer.text();
        if (answer.status === 401) return this.forget("It may not be set from there any more.");
        if (answer.status === 200 && text !== last) {
          this.device.configure(encoderConfig.parse(JSON.parse(text)));
          last = text;
        }
      } catch {
        // The server may be away for a while; what is held stays held.
      }
      await sleep(FETCH_EVERY_MS);
    }
  }

  private forget(why: string): void {
    this.memory.value.paired = null;
    this.memory.save();
    this.state = { kind: "refused", why };
  }
}

/** A timer that keeps nobody from ending. */
const sleep = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms).unref());

async function post(url: string, form: Record<string, string>): Promise<unknown> {
  const answer = await fetch(url, { method: "POST", body: new URLSearchParams(form), signal: AbortSignal.timeout(PATIENCE_MS) });
  return answer.json();
}
