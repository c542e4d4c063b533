import { type Encoder, encoder } from "@ukaza/contract/encoder";
import type { KitItem, KitUse } from "@ukaza/contract/kit";
import { Refusal } from "@ukaza/contract/problem";
import { claimedSpan, doubleBookings } from "@ukaza/core/rig/bookings";
import type { Queryable } from "../db/open";
import { queries } from "../db/queries";
import { freshIdAmong } from "../ids";

const q = queries(__dirname);

export const noEncoder = (id: string) => new Refusal(404, "no-such-encoder", `there is no encoder "${id}"`, "GET /api/kit lists them.");

export async function encodersOf(db: Queryable, id: string | null): Promise<Encoder[]> {
  return (await db.query<{ doc: unknown }>(q("encoders"), [id])).rows.map((row) => encoder.parse(row.doc));
}

export async function encoderOf(db: Queryable, id: string): Promise<Encoder> {
  const [found] = await encodersOf(db, id);
  if (!found) throw noEncoder(id);
  return found;
}

export const saveEncoder = (db: Queryable, e: Encoder) => db.query(q("save"), [e.id, e]);

export async function freshEncoderId(db: Queryable, name: string): Promise<string> {
  return freshIdAmong(name, new Set((await db.query<{ id: string }>(q("ids"))).rows.map((row) => row.id)));
}

interface UseRow extends Omit<KitUse, "from" | "until" | "out"> {
  show: { start: string; end: string };
  outAt: Date | null;
  outBy: string | null;
}

/** Every claim of an event that is not over, and of those that never brought an encoder back. */
export async function kitUses(db: Queryable): Promise<KitUse[]> {
  const { rows } = await db.query<UseRow>(q("uses"));
  return rows.map(({ show, outAt, outBy, ...use }) => ({
    ...use,
    ...claimedSpan(show),
    out: outAt ? { at: outAt.toISOString(), by: outBy ?? "" } : null,
  }));
}

export async function kitItems(db: Queryable): Promise<KitItem[]> {
  const uses = await kitUses(db);
  return (await encodersOf(db, null)).map((e) => {
    const own = uses.filter((use) => use.encoderId === e.id);
    return { encoder: e, uses: own, doubles: doubleBookings(own) };
  });
}

export async function takeOut(db: Queryable, encoderId: string, eventId: string, at: string, by: string): Promise<void> {
  const { rows } = await db.query(q("checkOut"), [encoderId, eventId, at, by]);
  if (rows.length === 0)
    throw new Refusal(409, "out-already", "this encoder is out for that event already", "Check it in when it is back.");
}

export async function bringBack(db: Queryable, encoderId: string, eventId: string, at: string, by: string): Promise<void> {
  const { rows } = await db.query(q("checkIn"), [encoderId, eventId, at, by]);
  if (rows.length === 0)
    throw new Refusal(409, "not-out", "this encoder is not out for that event", "Look at where it is in the list of kit.");
}

/** Takes an encoder off the list, if no event that is still to come has it planned or out. */
export async function putAway(db: Queryable, id: string, at: string): Promise<void> {
  const claim = (await kitUses(db)).find((use) => use.encoderId === id);
  if (claim)
    throw new Refusal(
      409,
      "encoder-in-use",
      `${claim.eventName} has this encoder ${claim.out ? "out" : "planned"}`,
      "Free it there first.",
    );
  await db.query(q("putAway"), [id, at]);
}
