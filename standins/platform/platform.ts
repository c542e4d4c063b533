import { randomBytes, randomUUID } from "node:crypto";
import { Refusal } from "@ukaza/contract/problem";
import type { Role } from "@ukaza/contract/rig";
import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import type { Broadcast, BroadcastCreated, BroadcastOrder, MediaSecond } from "@ukaza/contract/standins";
import { seeded } from "@ukaza/core/random";
import { checkSettings } from "@ukaza/core/rules/check";
import type { Store } from "../shared/store";

/** An ingest from which nothing has come for this long is no longer receiving. */
const QUIET_MS = 4_000;
const WINDOW_MS = 5_000;

interface Ingest {
  role: Role;
  key: string;
  receivingSince: number | null;
  heard: { atMs: number; bits: number }[];
  lastSettings: MediaSecond["settings"] | null;
}

interface Held {
  id: string;
  order: BroadcastOrder;
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
}

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
    const { lifecycle } = this.sheet;
    const id = `b-${randomUUID().slice(0, 8)}`;
    const draw = seeded(Number.parseInt(id.slice(2), 16))();
    const typicalS = lifecycle.preview?.typicalS ?? 0;
    const roles: Role[] = this.sheet.backupIngest ? ["main", "backup"] : ["main"];
    const held: Held = {
      id,
      order,
      state: "created",
      source: "main",
      ingests: roles.map((role) => ({ role, key: groups(randomBytes(10)), receivingSince: null, heard: [], lastSettings: null })),
      previewAfterS: typicalS * (0.7 + 0.5 * draw),
      publicAt: null,
      endedAt: null,
    };
    this.memory.value.broadcasts.push(held);
    this.memory.save();
    return { ...this.show(held, now), keys: held.ingests.map((i) => ({ role: i.role, address: this.address(i.role), key: i.key })) };
  }

  private address(role: Role): string {
    return `rtmp://${this.origin()}/${role === "main" ? "live" : "live-backup"}`;
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
        ...this.verdict(i, now),
      })),
      previewReady: this.previewReady(held, now),
      publicAt: held.publicAt,
      endedAt: held.endedAt,
    };
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

  private verdict(ingest: Ingest, now: Date): { verdict: Broadcast["ingests"][number]["verdict"]; reason: string | null } {
    const s = ingest.lastSettings;
    const waited = ingest.receivingSince === null ? 0 : (now.getTime() - ingest.receivingSince) / 1000;
    if (!s || !this.receiving(ingest, now) || waited < this.sheet.lifecycle.verdict.typicalS * this.waits)
      return { verdict: null, reason: null };
    const [worst] = checkSettings({ sheet: this.sheet, settings: s });
    if (worst?.level === "blocks") return { verdict: "refused", reason: worst.code };
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
        this.verdict(i, now).verdict !== "refused",
    );
  }

  /** One second of media for an address and a key. */
  receive(path: string, key: string, media: MediaSecond, now: Date): void {
    const role: Role | null = path === "live" ? "main" : path === "live-backup" ? "backup" : null;
    if (!role) throw new Refusal(404, "no-such-address", `nothing listens at /${path}`, "Check the address for a missing or doubled part.");
    const held = this.memory.value.broadcasts.find((b) => b.ingests.some((i) => i.key === key));
    if (!held) throw new Refusal(403, "key-unknown", "this key belongs to no broadcast", "Check the key for a missing or added character.");
    const ingest = held.ingests.find((i) => i.key === key);
    if (!ingest || ingest.role !== role)
      throw new Refusal(403, "key-of-other-ingest", "this key belongs to the other ingest", "Main and backup may be swapped.");
    if (held.state === "ended")
      throw new Refusal(410, "broadcast-ended", "this broadcast has ended and cannot start again", "Create a new broadcast.");
    if (!this.receiving(ingest, now)) ingest.receivingSince = now.getTime();
    ingest.heard = [...ingest.heard.filter((h) => now.getTime() - h.atMs < WINDOW_MS), { atMs: now.getTime(), bits: media.bits }];
    ingest.lastSettings = media.settings;
  }

  goPublic(held: Held, now: Date): void {
    if (held.state === "public") return;
    if (held.state === "ended")
      throw new Refusal(409, "broadcast-ended", "this broadcast has ended and cannot start again", "Create a new broadcast.");
    if (this.sheet.lifecycle.preview && !this.previewReady(held, now))
      throw new Refusal(409, "no-preview-yet", "there is no preview yet", "Wait for the preview, then watch it.");
    held.state = "public";
    held.publicAt = now.toISOString();
    this.memory.save();
  }

  end(held: Held, now: Date): void {
    if (held.state === "ended") return;
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
