import { Refusal } from "@ukaza/contract/problem";
import type { FeedOrder, RigNow, Role } from "@ukaza/contract/rig";
import { maskKey } from "@ukaza/core/rig/secret";
import type { Queryable } from "../db/open";
import { queries } from "../db/queries";
import type { EventDossier } from "../events/store";
import type { Secrets } from "../secrets";

const q = queries(__dirname);

export interface StoredIngest {
  role: Role;
  address: string;
  keySealed: string;
  receivedAt: Date;
}

export async function loadIngests(db: Queryable, dossier: EventDossier): Promise<StoredIngest[]> {
  return (await db.query<StoredIngest>(q("ingests"), [dossier.event.id, dossier.destination.id])).rows;
}

/** Rig as the app sees it: no key ever stands in it whole. */
export async function rigNowOf(db: Queryable, secrets: Secrets, dossier: EventDossier): Promise<RigNow> {
  const ingests = await loadIngests(db, dossier);
  return {
    destinationId: dossier.destination.id,
    platformName: dossier.sheet.platform.name,
    encoderName: dossier.encoder.name,
    ingests: ingests.map((i) => ({
      role: i.role,
      address: i.address,
      keyMasked: maskKey(secrets.open(i.keySealed)),
      receivedAt: i.receivedAt.toISOString(),
    })),
    configuredAt: dossier.run.configuredAt,
    readBack: dossier.run.readBack,
  };
}

/** What the encoder must hold: each feed with the address and key of its role. */
export async function feedOrders(db: Queryable, secrets: Secrets, dossier: EventDossier): Promise<FeedOrder[]> {
  const ingests = await loadIngests(db, dossier);
  if (dossier.feeds.length === 0) throw new Refusal(409, "no-fit", "no settings have been chosen for this event", "Choose a fit first.");
  return dossier.feeds.map((feed) => {
    const ingest = ingests.find((i) => i.role === feed.role);
    if (!ingest)
      throw new Refusal(409, "no-address", `there is no ${feed.role} address and key yet`, "Create the broadcast on the platform first.");
    return { feedId: feed.id, role: feed.role, uplinkId: feed.uplinkId, address: ingest.address, key: secrets.open(ingest.keySealed) };
  });
}
