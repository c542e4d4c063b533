import type { LogData, LogKind, LogLine } from "@ukaza/contract/air";
import { Refusal, readAs } from "@ukaza/contract/problem";
import { type FeedOrder, type HeldField, role, typedIngest } from "@ukaza/contract/rig";
import type { Settings } from "@ukaza/contract/settings";
import type { EncoderHeld } from "@ukaza/contract/standins";
import { noFacts } from "@ukaza/core/lineup/runSheet";
import { compareHeld, compareReceived } from "@ukaza/core/rig/readBack";
import { type IngestFault, typedIngestFault } from "@ukaza/core/rig/typedIngest";
import { Router } from "express";
import { z } from "zod";
import type { Context } from "../context";
import { queries } from "../db/queries";
import { appendLog, type EventDossier, loadDossier } from "../events/store";
import { feedOrders, fieldsOf, loadIngests, rigNowOf, wayOf } from "./store";

const q = queries(__dirname);

/** An encoder that fetches its settings asks once a second or so. */
const FETCH_PATIENCE_MS = 8_000;

/** Address and key from the platform into the encoder, and what the encoder then really holds. */
export function rigRouter(context: Context): Router {
  const { db, drivers, devices, hub, secrets, live, now } = context;
  const router = Router();

  async function say(eventId: string, kind: LogKind, level: LogLine["level"], data: LogData): Promise<void> {
    const lines = await appendLog(db, eventId, [{ at: now().toISOString(), kind, level, feedId: null, data }]);
    hub.publish(eventId, { type: "log", lines });
    hub.publish(eventId, { type: "changed", what: ["event", "rig", "lineup"] });
  }
  const answer = async (eventId: string) => rigNowOf(context, await loadDossier(db, eventId));
  const mustRest = (dossier: EventDossier) => {
    const { sendingAt, stoppedAt } = dossier.run.facts;
    if (sendingAt !== null && stoppedAt === null)
      throw new Refusal(409, "already-sending", "the encoder is sending", "Stop sending before changing what it holds.");
    if (stoppedAt !== null)
      throw new Refusal(409, "event-over", "this event has been wrapped up", "Make a new event for another broadcast.");
  };

  router.get("/events/:id/rig", async (request, response) => void response.json(await answer(request.params.id)));

  router.post("/events/:id/rig/broadcast", async (request, response) => {
    const { id } = request.params;
    await live.alone(id, async () => {
      const dossier = await loadDossier(db, id);
      // A phone that sends twice gets the same broadcast twice, unless the platform has forgotten it.
      if (dossier.run.broadcastId !== null && (await stillThere(dossier)) && (await sameProtocol(dossier))) return;
      mustRest(dossier);
      const { destination, event } = dossier;
      const made = await drivers.platform(dossier.platformReach).create({
        title: destination.title,
        description: destination.description,
        access: destination.access,
        protocol: wayOf(dossier).protocol,
      });
      await db.transaction(async (tx) => {
        await tx.query(q("saveBroadcast"), [event.id, destination.id, made.id, noFacts]);
        for (const key of made.keys)
          await tx.query(q("saveIngest"), [
            event.id,
            destination.id,
            key.role,
            key.address,
            secrets.seal(key.key),
            key.login || key.passphrase ? secrets.seal(JSON.stringify({ login: key.login, passphrase: key.passphrase })) : null,
            now().toISOString(),
          ]);
      });
      await say(id, "broadcast-created", "info", { platform: dossier.sheet.platform.name, roles: made.keys.map((k) => k.role) });
    });
    response.status(201).json(await answer(id));
  });

  /** Address and key as somebody copied them from the page of a platform that nothing reaches. */
  router.put("/events/:id/rig/ingest", async (request, response) => {
    const { id } = request.params;
    const typed = readAs(typedIngest, request.body, "ingest");
    await live.alone(id, async () => {
      const dossier = await loadDossier(db, id);
      mustRest(dossier);
      const { event, destination, platformReach, sheet, run } = dossier;
      if (platformReach.driver !== "none")
        throw new Refusal(
          409,
          "handed-out",
          `${sheet.platform.name} hands out addresses and keys itself`,
          "Create the broadcast from here.",
        );
      if (!run.fit) throw new Refusal(409, "no-fit", "no settings have been chosen for this event", "Choose a fit first.");
      const fault = typedIngestFault(typed.address, typed.key, run.fit.settings.protocol);
      if (fault) throw copyRefusal(fault, run.fit.settings.protocol);
      const said = typed.login || typed.passphrase ? { login: typed.login, passphrase: typed.passphrase } : null;
      await db.transaction(async (tx) => {
        await tx.query(q("saveBroadcast"), [event.id, destination.id, "by-hand", noFacts]);
        await tx.query(q("saveIngest"), [
          event.id,
          destination.id,
          typed.role,
          typed.address.trim(),
          secrets.seal(typed.key.trim()),
          said ? secrets.seal(JSON.stringify(said)) : null,
          now().toISOString(),
        ]);
      });
      await say(id, "broadcast-created", "info", { platform: sheet.platform.name, roles: [typed.role] });
    });
    response.json(await answer(id));
  });

  async function stillThere(dossier: EventDossier): Promise<boolean> {
    try {
      const seen = await drivers.platform(dossier.platformReach).show(dossier.run.broadcastId ?? "");
      return seen.state !== "ended" || dossier.run.facts.endedAt !== null;
    } catch (error) {
      if (error instanceof Refusal && error.problem.type.endsWith("device-refused")) return false;
      throw error;
    }
  }

  /** Addresses of another protocol than the chosen one serve nobody: the broadcast is made anew. */
  async function sameProtocol(dossier: EventDossier): Promise<boolean> {
    if (dossier.run.facts.sendingAt !== null || !dossier.run.fit) return true;
    const scheme = `${dossier.run.fit.settings.protocol}://`;
    return (await loadIngests(db, dossier)).every((i) => i.address.startsWith(scheme));
  }

  /** Gives the encoder what it is to hold, in the way in which it takes it. */
  async function hand(dossier: EventDossier, config: EncoderHeld): Promise<void> {
    const { encoder } = dossier;
    if (encoder.setBy !== "code") return void (await drivers.encoder(encoder).configure(config));
    if (!(await devices.isPaired(encoder.id)))
      throw new Refusal(
        409,
        "not-paired",
        `${encoder.name} has not been let in yet`,
        "Ask for a code on the encoder and approve it under Kit.",
      );
    await devices.layOut(encoder.id, config, FETCH_PATIENCE_MS);
  }

  router.post("/events/:id/rig/configure", async (request, response) => {
    const { id } = request.params;
    await live.alone(id, async () => {
      const dossier = await loadDossier(db, id);
      mustRest(dossier);
      const orders = await feedOrders(db, secrets, dossier);
      const settings = dossier.run.fit?.settings ?? null;
      mustMatch(orders, settings);
      const feeds = Object.fromEntries(orders.map(({ feedId, role: _role, ...feed }) => [feedId, feed]));
      if (dossier.encoder.reach.driver === "none") await typedByHand(dossier);
      else {
        await hand(dossier, { engine: { settings }, feeds });
        await say(id, "encoder-configured", "info", { encoder: dossier.encoder.name, roles: orders.map((o) => o.role) });
        await readBack(dossier, true);
      }
    });
    response.json(await answer(id));
  });

  router.post("/events/:id/rig/read-back", async (request, response) => {
    const { id } = request.params;
    await live.alone(id, async () => readBack(await loadDossier(db, id), false));
    response.json(await answer(id));
  });

  /** Somebody says that all is typed in; whether it is right shows when the platform receives. */
  async function typedByHand(dossier: EventDossier): Promise<void> {
    const at = now().toISOString();
    await db.query(q("saveReadBack"), [dossier.event.id, dossier.destination.id, at, null, true]);
    await say(dossier.event.id, "encoder-configured", "info", { encoder: dossier.encoder.name, roles: dossier.feeds.map((f) => f.role) });
  }

  /** What the encoder holds or, where it cannot be asked, what the platform receives from it. */
  async function fieldsHeld(dossier: EventDossier, settings: Settings): Promise<HeldField[]> {
    if (dossier.encoder.reach.driver !== "none") {
      const orders = await feedOrders(db, secrets, dossier);
      return compareHeld({ settings, feeds: orders }, await drivers.encoder(dossier.encoder).held());
    }
    const seen = await drivers.platform(dossier.platformReach).show(dossier.run.broadcastId ?? "");
    const fields = seen.ingests.flatMap((i) => (i.received ? compareReceived(settings, i.role, i.received) : []));
    if (fields.length === 0)
      throw new Refusal(
        409,
        "nothing-received",
        `${dossier.sheet.platform.name} receives nothing from the ${dossier.encoder.name.toLowerCase()} yet`,
        "Start it on the encoder's own page; if it says that it sends, compare address and key.",
      );
    return fields;
  }

  async function readBack(dossier: EventDossier, configuredNow: boolean): Promise<void> {
    const { fit } = dossier.run;
    if (!fit) throw new Refusal(409, "no-fit", "no settings have been chosen for this event", "Choose a fit first.");
    const fields = await fieldsHeld(dossier, fit.settings);
    const at = now().toISOString();
    const equal = fields.every((f) => f.equal);
    await db.query(q("saveReadBack"), [
      dossier.event.id,
      dossier.destination.id,
      configuredNow ? at : dossier.run.configuredAt,
      { at, fields, equal },
      equal,
    ]);
    await say(dossier.event.id, "read-back", equal ? "info" : "warn", {
      equal,
      differing: fields.filter((f) => !f.equal).map((f) => `${f.feed} ${f.field}`),
    });
  }

  router.post("/events/:id/rig/reveal", async (request, response) => {
    const { id } = request.params;
    const asked = readAs(z.strictObject({ role }), request.body, "reveal");
    const dossier = await loadDossier(db, id);
    const ingest = (await loadIngests(db, dossier)).find((i) => i.role === asked.role);
    if (!ingest) throw new Refusal(404, "no-key", `there is no ${asked.role} key yet`, "Create the broadcast first.");
    await say(id, "key-revealed", "warn", { role: asked.role });
    response.set("cache-control", "no-store").json({ key: secrets.open(ingest.keySealed), fields: fieldsOf(secrets, dossier, ingest) });
  });
  return router;
}

const copyFaults: Record<IngestFault["code"], [detail: string, mend: string]> = {
  empty: ["is empty", "Copy it from the platform's page."],
  space: ["holds a space or a line break", "Copy it again without what stands before and behind it."],
  "no-scheme": ["does not say its protocol", "Copy all of it, with what stands before ://."],
  "key-in-address": ["looks like a stream key", "Address and key may be swapped: the address begins with the protocol and ://."],
  "other-protocol": [
    "is one of another protocol than the chosen settings",
    "Copy the address of that protocol, or choose other settings in Fit.",
  ],
  "address-in-key": ["looks like an address", "Address and key may be swapped."],
  "key-at-end": ["ends in the key already", "Leave the key out of the address; it has a field of its own."],
};

/** Says which field was copied wrongly, and how it looks from here. Never shows what was typed. */
function copyRefusal({ at, code }: IngestFault, protocol: string): Refusal {
  const [detail, mend] = copyFaults[code];
  return new Refusal(422, `ingest-${code}`, `the ${at} ${detail}${code === "other-protocol" ? ` (${protocol.toUpperCase()})` : ""}`, mend, [
    { at, message: detail },
  ]);
}

/** An address of one protocol and settings of another would never meet. */
function mustMatch(orders: FeedOrder[], settings: Settings | null): void {
  const stray = orders.find((o) => settings && !o.address.startsWith(`${settings.protocol}://`));
  if (stray)
    throw new Refusal(
      409,
      "address-of-other-protocol",
      `the ${stray.role} address is not one of ${settings?.protocol.toUpperCase()}, which was chosen since`,
      "Create the broadcast again: it hands out addresses of the chosen protocol.",
    );
}
