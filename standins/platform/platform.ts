import { randomBytes, randomUUID } from "node:crypto";
import { Refusal } from "@ukaza/contract/problem";
import type { Role } from "@ukaza/contract/rig";
import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import type { Protocol, Settings } from "@ukaza/contract/settings";
import type { Broadcast, BroadcastCreated, BroadcastOrder, Credentials, MediaSecond } from "@ukaza/contract/standins";
import { seeded } from "@ukaza/core/random";
import type { DeviceGrant } from "@ukaza/core/rig/deviceCode";
import { faultsIn } from "@ukaza/core/rules/check";
import type { frozenSettings } from "@ukaza/core/rules/frozen";
import type { Store } from "../shared/store";
import { keyInStreamId, mustSay, noCredentials, roleAt, sameField, withoutRendition } from "./door";

/** An ingest from which nothing has come for this long is no longer receiving. */
const QUIET_MS = 4_000;
const WINDOW_MS = 5_000;

interface Ingest {
  role: Role;
  key: string;
  login: { user: string; password: string } | null;
  passphrase: string | null;
  /** The key died when sending stopped. */
  dead?: boolean;
  receivingSince: number | null;
  heard: { atMs: number; bits: number }[];
  lastSettings: MediaSecond["settings"] | null;
}

interface Held {
  id: string;
  order: BroadcastOrder;
  createdAt: string;
  protocol: Protocol;
  /** Settings that were frozen at the preview or at public; null: not yet. */
  frozen: { fields: (keyof typeof frozenSettings)[]; settings: Settings } | null;
  state: "created" | "public" | "ended";
  source: Role;
  ingests: Ingest[];
  /** Seconds this broadcast's preview takes, drawn when it was created. */
  previewAfterS: number;
  publicAt: string | null;
  endedAt: string | null;
}

export interface PlatformMemory {
  broadcasts: Held[];
  /** Keys that outlast their broadcasts. */
  lasting: Partial<Record<Role, string>>;
  grants: DeviceGrant[];
  tokens: string[];
}

export const freshPlatform = (): PlatformMemory => ({ broadcasts: [], lasting: {}, grants: [], tokens: [] });

const groups = (bytes: Buffer) => (bytes.toString("hex").match(/.{4}/g) ?? []).join("-");

/** The platform stand-in: broadcasts, their keys, and what it thinks of what it receives, by its own rule sheet. */
export class Platform {
  /** `waits`: factor on the sheet's waits, so that a test need not sit them out. */
  constructor(
    private readonly sheet: RuleSheet,
    private readonly memory: Store<PlatformMemory>,
    private readonly origin: () => string,
    private readonly waits: number,
  ) {}

  create(order: BroadcastOrder, now: Date): BroadcastCreated {
    const { lifecycle, regions, protocols, backupIngest } = this.sheet;
    const way = protocols.find((p) => p.protocol === (order.protocol ?? protocols[0]?.protocol));
    if (!way)
      throw new Refusal(
        422,
        "protocol-not-taken",
        `${order.protocol} is not taken here`,
        `Taken: ${protocols.map((p) => p.protocol).join(", ")}.`,
      );
    if (order.region && !regions.some((r) => r.id === order.region))
      throw new Refusal(
        422,
        "no-such-region",
        `there is no region "${order.region}"`,
        `Regions: ${regions.map((r) => r.id).join(", ") || "none"}.`,
      );
    const id = `b-${randomUUID().slice(0, 8)}`;
    const draw = seeded(Number.parseInt(id.slice(2), 16))();
    const typicalS = lifecycle.preview?.typicalS ?? 0;
    const roles: Role[] = backupIngest ? ["main", "backup"] : ["main"];
    const held: Held = {
      id,
      order,
      createdAt: now.toISOString(),
      protocol: way.protocol,
      frozen: null,
      state: "created",
      source: "main",
      ingests: roles.map((role) => ({
        role,
        key: this.keyFor(role, order.lastingKey ?? false),
        login: way.login === "required" ? { user: `crew-${id.slice(2, 6)}`, password: randomBytes(9).toString("base64url") } : null,
        passphrase: way.passphrase === "required" ? randomBytes(12).toString("base64url") : null,
        receivingSince: null,
        heard: [],
        lastSettings: null,
      })),
      previewAfterS: typicalS * (0.7 + 0.5 * draw),
      publicAt: null,
      endedAt: null,
    };
    this.memory.value.broadcasts.push(held);
    this.memory.save();
    const keys = held.ingests.map(({ role, key, login, passphrase }) => ({
      role,
      address: this.address(held, role),
      key,
      login,
      passphrase,
    }));
    return { ...this.show(held, now), keys };
  }

  /** A lasting key is the same for every broadcast; any other is made anew. */
  private keyFor(role: Role, lastingAsked: boolean): string {
    const fresh = groups(randomBytes(10));
    const lasts = this.sheet.keyLife === "lasting" || (lastingAsked && this.sheet.lastingKeyOnRequest);
    if (!lasts) return fresh;
    const { lasting } = this.memory.value;
    lasting[role] ??= fresh;
    return lasting[role];
  }

  private address(held: Held, role: Role): string {
    const region = held.order.region ? `${held.order.region}-` : "";
    return `${held.protocol}://${this.origin()}/${region}${role === "main" ? "live" : "live-backup"}`;
  }

  find(id: string): Held {
    const held = this.memory.value.broadcasts.find((b) => b.id === id);
    if (!held) throw new Refusal(404, "no-such-broadcast", `there is no broadcast "${id}"`, "Create it again.");
    return held;
  }

  show(held: Held, now: Date): Broadcast {
    const receiving = held.ingests.some((i) => this.receiving(i, now));
    return {
      id: held.id,
      state: held.state === "created" && receiving ? "receiving" : held.state,
      source: held.source,
      ingests: held.ingests.map((i) => ({
        role: i.role,
        receiving: this.receiving(i, now),
        receivedBps: this.receivedBps(i, now),
        heardAt: lastHeard(i),
        received: this.receiving(i, now) ? i.lastSettings : null,
        ...this.verdict(held, i, now),
      })),
      previewReady: this.previewReady(held, now),
      publicAt: held.publicAt,
      endedAt: held.endedAt,
      costSoFar: this.costSoFar(held, now),
    };
  }

  /** A service that is billed by the hour costs until it is ended. */
  private costSoFar(held: Held, now: Date): number | null {
    if (this.sheet.pricePerHour === null) return null;
    const until = held.endedAt === null ? now.getTime() : Date.parse(held.endedAt);
    return Math.round((this.sheet.pricePerHour * (until - Date.parse(held.createdAt))) / 36_000) / 100;
  }

  private receiving(ingest: Ingest, now: Date): boolean {
    const last = ingest.heard.at(-1);
    return last !== undefined && now.getTime() - last.atMs < QUIET_MS;
  }

  private receivedBps(ingest: Ingest, now: Date): number {
    const heard = ingest.heard.filter((h) => now.getTime() - h.atMs < WINDOW_MS && now.getTime() - h.atMs >= 0);
    const spanS =
      ingest.receivingSince === null
        ? WINDOW_MS / 1000
        : Math.min(WINDOW_MS / 1000, Math.floor((now.getTime() - ingest.receivingSince) / 1000) + 1);
    return Math.round(heard.reduce((sum, h) => sum + h.bits, 0) / spanS);
  }

  private verdict(held: Held, ingest: Ingest, now: Date): { verdict: Broadcast["ingests"][number]["verdict"]; reason: string | null } {
    const s = ingest.lastSettings;
    const waited = ingest.receivingSince === null ? 0 : (now.getTime() - ingest.receivingSince) / 1000;
    if (!s || !this.receiving(ingest, now) || waited < this.sheet.lifecycle.verdict.typicalS * this.waits)
      return { verdict: null, reason: null };
    const [worst] = faultsIn({ sheet: this.sheet, settings: s });
    if (worst?.level === "blocks") return { verdict: "refused", reason: worst.code };
    const moved = held.frozen?.fields.find((field) => !sameField(field, s, held.frozen?.settings ?? s));
    if (moved) return { verdict: "refused", reason: "format-frozen" };
    const low = this.receivedBps(ingest, now) < 0.8 * (s.videoBps + s.audioBps);
    return low ? { verdict: "poor", reason: "received-low" } : { verdict: "good", reason: null };
  }

  private previewReady(held: Held, now: Date): boolean {
    if (!this.sheet.lifecycle.preview || held.state !== "created") return false;
    const waitS = (this.sheet.lifecycle.verdict.typicalS + held.previewAfterS) * this.waits;
    return held.ingests.some(
      (i) =>
        this.receiving(i, now) &&
        i.receivingSince !== null &&
        (now.getTime() - i.receivingSince) / 1000 >= waitS &&
        this.verdict(held, i, now).verdict !== "refused",
    );
  }

  /** One second of media for an address, a key and what is said beside it. */
  receive(path: string, key: string, media: MediaSecond, now: Date, said: Credentials = noCredentials): void {
    const role = roleAt(this.sheet, path);
    if (!role) throw new Refusal(404, "no-such-address", `nothing listens at /${path}`, "Check the address for a missing or doubled part.");
    const way = this.sheet.protocols.find((p) => p.protocol === media.settings.protocol);
    if (!way) throw new Refusal(403, "protocol-not-taken", `${media.settings.protocol} is not taken here`, "Send by another protocol.");
    const given = way.streamId === null ? key : keyInStreamId(way.streamId, said.streamId ?? "");
    if (given === null)
      throw new Refusal(403, "stream-id", "the stream ID is not written as it must be here", `Write it as ${way.streamId ?? ""}.`);
    const bare = withoutRendition(given, way.renditionSuffix, this.sheet.renditionsMax);
    // A lasting key belongs to the newest broadcast that was made with it.
    const held = this.memory.value.broadcasts.findLast((b) => b.ingests.some((i) => i.key === bare));
    if (!held) throw new Refusal(403, "key-unknown", "this key belongs to no broadcast", "Check the key for a missing or added character.");
    const ingest = held.ingests.find((i) => i.key === bare && i.role === role);
    if (!ingest) throw new Refusal(403, "key-of-other-ingest", "this key belongs to the other ingest", "Main and backup may be swapped.");
    mustSay(ingest, way.userAgent, said);
    if (held.state === "ended" && this.sheet.lifecycle.endIrreversible)
      throw new Refusal(410, "broadcast-ended", "this broadcast has ended and cannot start again", "Create a new broadcast.");
    this.mustLive(held, ingest, now);
    if (!this.receiving(ingest, now)) ingest.receivingSince = now.getTime();
    ingest.heard = [...ingest.heard.filter((h) => now.getTime() - h.atMs < WINDOW_MS), { atMs: now.getTime(), bits: media.bits }];
    ingest.lastSettings = media.settings;
    if (held.frozen === null && this.previewReady(held, now)) this.freeze(held, "preview");
  }

  /** Where keys die on stop, one from which nothing has come for a while is dead for good. */
  private mustLive(held: Held, ingest: Ingest, now: Date): void {
    const lasting = this.memory.value.lasting[ingest.role] === ingest.key;
    const stopped = ingest.receivingSince !== null && !this.receiving(ingest, now);
    if (this.sheet.keyLife === "dies-on-stop" && !lasting && stopped) ingest.dead = true;
    if (ingest.dead)
      throw new Refusal(
        410,
        "key-dead",
        "this key died when sending stopped",
        held.state === "public" ? "The broadcast cannot go on; create a new one." : "Create a new broadcast for a new key.",
      );
  }

  private freeze(held: Held, at: "preview" | "public"): void {
    const fields = this.sheet.lifecycle.freezes.filter((f) => f.at === at).flatMap((f) => f.fields);
    const settings = held.ingests.find((i) => i.lastSettings)?.lastSettings;
    if (fields.length > 0 && settings) held.frozen = { fields: [...(held.frozen?.fields ?? []), ...fields], settings };
  }

  goPublic(held: Held, now: Date): void {
    if (held.state === "public") return;
    if (held.state === "ended" && this.sheet.lifecycle.endIrreversible)
      throw new Refusal(409, "broadcast-ended", "this broadcast has ended and cannot start again", "Create a new broadcast.");
    if (this.sheet.lifecycle.preview && !this.previewReady(held, now))
      throw new Refusal(409, "no-preview-yet", "there is no preview yet", "Wait for the preview, then watch it.");
    this.freeze(held, "public");
    held.state = "public";
    held.publicAt = now.toISOString();
    held.endedAt = null;
    this.memory.save();
  }

  /** Takes public back, where the platform allows it. */
  goPrivate(held: Held): void {
    if (this.sheet.lifecycle.publicIrreversible)
      throw new Refusal(409, "public-for-good", "what is public here stays public until it ends", "End the broadcast instead.");
    if (held.state !== "public") return;
    held.state = "created";
    held.publicAt = null;
    this.memory.save();
  }

  end(held: Held, now: Date): void {
    if (held.state === "ended") return;
    if (this.sheet.lifecycle.endsFirst === "encoder" && held.ingests.some((i) => this.receiving(i, now)))
      throw new Refusal(409, "still-receiving", "the encoder is still sending", "Stop the encoder first; here the encoder ends first.");
    held.state = "ended";
    held.endedAt = now.toISOString();
    this.memory.save();
  }

  setSource(held: Held, role: Role): void {
    if (!held.ingests.some((i) => i.role === role))
      throw new Refusal(409, "no-such-ingest", `this broadcast has no ${role} ingest`, "Use the one it has.");
    held.source = role;
    this.memory.save();
  }
}

function lastHeard(ingest: Ingest): string | null {
  const last = ingest.heard.at(-1);
  return last ? new Date(last.atMs).toISOString() : null;
}
