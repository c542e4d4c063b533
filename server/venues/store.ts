import type { Event } from "@ukaza/contract/event";
import { Refusal } from "@ukaza/contract/problem";
import type { Uplink, VenueBody, VenueListed } from "@ukaza/contract/venue";
import type { Queryable } from "../db/open";
import { queries } from "../db/queries";
import { baseOf, freshIdAmong } from "../ids";

const q = queries(__dirname);

export const noUplink = (id: string) => new Refusal(404, "no-such-uplink", `there is no uplink "${id}"`, "Open the survey again.");
export const noVenue = (id: string) => new Refusal(404, "no-such-venue", `there is no venue "${id}"`, "GET /api/venues lists them.");

export async function listVenues(db: Queryable): Promise<VenueListed[]> {
  return (await db.query<VenueListed>(q("list"))).rows;
}

export type VenueRow = VenueBody & { id: string };

export async function venueOf(db: Queryable, id: string): Promise<VenueRow> {
  const [row] = (await db.query<VenueRow>(q("venue"), [id])).rows;
  if (!row) throw noVenue(id);
  return row;
}

export async function saveVenue(db: Queryable, { id, name, timeZone, note }: VenueRow): Promise<void> {
  await db.query(q("saveVenue"), [id, name, timeZone, note]);
}

/** The venue's own uplinks, and those that the event brought along. */
export async function uplinksOf(db: Queryable, venueId: string, eventId: string | null): Promise<Uplink[]> {
  return (await db.query<Uplink>(q("uplinks"), [venueId, eventId])).rows;
}

export interface PlacedUplink {
  uplink: Uplink;
  venueId: string;
  timeZone: string;
}

export async function uplinkOf(db: Queryable, id: string): Promise<PlacedUplink> {
  const [row] = (await db.query<Uplink & { venue_id: string; time_zone: string }>(q("uplink"), [id])).rows;
  if (!row) throw noUplink(id);
  const { venue_id: venueId, time_zone: timeZone, ...uplink } = row;
  return { uplink, venueId, timeZone };
}

/** Saves an uplink at its place in the list; null leaves the place. A bonded group's members must be the same venue's. */
export async function saveUplink(db: Queryable, venueId: string, position: number | null, u: Uplink): Promise<void> {
  const siblings = await uplinksOf(db, venueId, u.eventId);
  const stray = u.members.find((id) => !siblings.some((s) => s.id === id && s.kind !== "bonded" && s.id !== u.id));
  if (stray)
    throw new Refusal(
      422,
      "member-elsewhere",
      `"${stray}" is no uplink of this venue that can be bonded`,
      "Choose members among the venue's own.",
    );
  const json = (value: unknown) => (value === null ? null : JSON.stringify(value));
  const { rows } = await db.query(q("saveUplink"), [
    u.id,
    venueId,
    position,
    u.name,
    u.kind,
    u.note,
    u.reserveOverride,
    json(u.metered),
    json(u.reserved),
    json(u.members),
    u.reflector,
    u.localAddress,
    u.eventId,
  ]);
  if (rows.length === 0) throw new Refusal(409, "uplink-elsewhere", `the uplink "${u.id}" belongs to another venue`, "Give it another id.");
}

/** Puts an uplink away (`at`: when) or back (null); its tests stay. */
export async function setArchived(db: Queryable, id: string, at: string | null): Promise<void> {
  const { rows: groups } = await db.query<{ name: string }>(q("groupsWith"), [id]);
  if (at !== null && groups[0])
    throw new Refusal(409, "in-a-group", `this uplink is bonded into ${groups[0].name}`, "Take it out of the group first.");
  if (at !== null && (await busyUplinks(db)).has(id))
    throw new Refusal(409, "uplink-busy", "a feed is on this uplink now", "Wait until the event has stopped sending.");
  if ((await db.query(q("archive"), [id, at])).rows.length === 0) throw noUplink(id);
}

export async function setReserve(db: Queryable, id: string, reserve: number | null): Promise<void> {
  if ((await db.query(q("reserve"), [id, reserve])).rows.length === 0) throw noUplink(id);
}

export async function addUsedGb(db: Queryable, id: string, gb: number): Promise<void> {
  await db.query(q("addUsed"), [id, gb]);
}

/** An id made of a name that nothing here has yet. */
export async function freshId(db: Queryable, name: string): Promise<string> {
  const { rows } = await db.query<{ id: string }>(q("idsLike"), [`${baseOf(name)}%`]);
  return freshIdAmong(name, new Set(rows.map((row) => row.id)));
}

export async function openEventsAt(db: Queryable, venueId: string): Promise<string[]> {
  return (await db.query<{ id: string }>(q("openEvents"), [venueId])).rows.map((row) => row.id);
}

export async function nextShowAt(db: Queryable, venueId: string): Promise<Event["show"] | null> {
  return (await db.query<{ doc: Event }>(q("nextShow"), [venueId])).rows[0]?.doc.show ?? null;
}

/** Uplinks with a feed on them now: a test there would hurt it. */
export async function busyUplinks(db: Queryable): Promise<Set<string>> {
  return new Set((await db.query<{ id: string }>(q("busy"))).rows.map((row) => row.id));
}
