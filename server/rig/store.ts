import { Refusal } from "@ukaza/contract/problem";
import type { FeedOrder, RigField, RigNow, Role } from "@ukaza/contract/rig";
import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import { credentialsFor, fieldsToType, type HandedOut, withPort } from "@ukaza/core/rig/compose";
import { maskKey } from "@ukaza/core/rig/secret";
import type { Context } from "../context";
import type { Queryable } from "../db/open";
import { queries } from "../db/queries";
import type { EventDossier } from "../events/store";
import type { Secrets } from "../secrets";

const q = queries(__dirname);

type RigContext = Pick<Context, "db" | "secrets" | "accounts" | "devices">;

export interface StoredIngest {
  role: Role;
  address: string;
  keySealed: string;
  /** User name, password and passphrase, sealed together; null: none were handed out. */
  saidSealed: string | null;
  receivedAt: Date;
}

/** What the platform handed out, opened. */
export function opened(secrets: Secrets, ingest: StoredIngest): HandedOut {
  const said = ingest.saidSealed ? (JSON.parse(secrets.open(ingest.saidSealed)) as Pick<HandedOut, "login" | "passphrase">) : null;
  return { address: ingest.address, key: secrets.open(ingest.keySealed), login: said?.login ?? null, passphrase: said?.passphrase ?? null };
}

/** How the sheet speaks the protocol of the chosen settings; before any are chosen, of its first. */
export function wayOf({ sheet, run }: EventDossier): RuleSheet["protocols"][number] {
  const [first] = sheet.protocols;
  const found = sheet.protocols.find((p) => p.protocol === run.fit?.settings.protocol) ?? first;
  if (!found) throw new Error("a sheet has at least one protocol");
  return found;
}

/** The fields that a person types for an ingest, whole. */
export const fieldsOf = (secrets: Secrets, dossier: EventDossier, ingest: StoredIngest): RigField[] =>
  fieldsToType(wayOf(dossier), opened(secrets, ingest), dossier.encoder.setBy);

export async function loadIngests(db: Queryable, dossier: EventDossier): Promise<StoredIngest[]> {
  return (await db.query<StoredIngest>(q("ingests"), [dossier.event.id, dossier.destination.id])).rows;
}

/** Rig as the app sees it: no key ever stands in it whole. */
export async function rigNowOf({ db, secrets, accounts, devices }: RigContext, dossier: EventDossier): Promise<RigNow> {
  const ingests = await loadIngests(db, dossier);
  const { encoder, sheet } = dossier;
  return {
    destinationId: dossier.destination.id,
    platformId: sheet.platform.id,
    platformName: sheet.platform.name,
    others: dossier.others,
    encoderId: encoder.id,
    encoderName: encoder.name,
    setBy: encoder.reach.driver === "none" ? "by hand" : encoder.setBy,
    account: accounts.stateOf(dossier.platformReach).state,
    toType: dossier.platformReach.driver === "none" ? toType(dossier) : [],
    paired: encoder.setBy === "code" ? await devices.isPaired(encoder.id) : null,
    ingests: ingests.map((i) => ({
      role: i.role,
      address: i.address,
      keyMasked: maskKey(secrets.open(i.keySealed)),
      receivedAt: i.receivedAt.toISOString(),
      fields: fieldsOf(secrets, dossier, i).map((f) => (f.secret ? { ...f, value: maskKey(f.value) } : f)),
    })),
    configuredAt: dossier.run.configuredAt,
    readBack: dossier.run.readBack,
  };
}

/** The ingests of the chosen feeds that a person types in, where nothing reaches the platform. */
function toType(dossier: EventDossier): RigNow["toType"] {
  const way = wayOf(dossier);
  return dossier.feeds.map((f) => ({ role: f.role, login: way.login !== "none", passphrase: way.passphrase !== "none" }));
}

/** What the encoder must hold: each feed with the address and key of its role. */
export async function feedOrders(db: Queryable, secrets: Secrets, dossier: EventDossier): Promise<FeedOrder[]> {
  const ingests = await loadIngests(db, dossier);
  if (dossier.feeds.length === 0) throw new Refusal(409, "no-fit", "no settings have been chosen for this event", "Choose a fit first.");
  const way = wayOf(dossier);
  return dossier.feeds.map((feed) => {
    const ingest = ingests.find((i) => i.role === feed.role);
    if (!ingest)
      throw new Refusal(409, "no-address", `there is no ${feed.role} address and key yet`, "Create the broadcast on the platform first.");
    const out = opened(secrets, ingest);
    return {
      feedId: feed.id,
      role: feed.role,
      uplinkId: feed.uplinkId,
      address: withPort(out.address, way),
      key: out.key,
      credentials: credentialsFor(way, out),
    };
  });
}
