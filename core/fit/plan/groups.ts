import type { Protocol } from "@ukaza/contract/settings";
import { bestAt, type Hull, hullOf } from "./hull";
import type { Make } from "./makes";
import type { Route, Taker } from "./model";
import { cheapest, type Way } from "./spots";
import type { Terms } from "./terms";

/** A member of a group and the ways it may be sent; none: a relay passes it on, and it has no feed of its own. */
export interface Member {
  taker: Taker;
  terms: Terms;
  encoders: readonly number[];
  ways: readonly Way[] | null;
}

/** Destinations that are sent the same settings, from one engine on each of `encoders`; by which ways is open. */
export interface Group {
  encoders: readonly number[];
  make: Make;
  members: readonly Member[];
  /** Points of one millionth of Q. */
  weight: number;
  /** Index of the highest bitrate that every member can be sent. */
  last: number;
  /** Where all feeds weigh the same whatever their way: that table's hull; null: they differ. */
  hull: Hull | null;
}

/** A group of these members; null: one of them cannot be sent any of the bitrates. */
export function groupOf(make: Make, encoders: readonly number[], members: readonly Member[]): Group | null {
  let last = make.q.length - 1;
  let table: Float64Array | null = null;
  let even = true;
  let weight = 0;
  for (const { ways, taker } of members) {
    weight += taker.weight;
    if (!ways) continue;
    if (ways.length === 0) return null;
    last = Math.min(last, Math.max(...ways.map((w) => w.last)));
    for (const way of ways)
      for (const own of way.tables) {
        if (table && own !== table) even = false;
        table = own;
      }
  }
  return { encoders, make, members, weight, last, hull: even && table ? hullOf(table, make.q, last) : null };
}

/** A member's cheapest way at one bitrate: its price and route. */
function cheapestAt(member: Member, at: number, room: readonly number[]): { price: number; way: Way; route: Route } | null {
  let best: { price: number; way: Way; route: Route } | null = null;
  for (const way of member.ways ?? []) {
    if (at > way.last) continue;
    for (const route of way.hull ? [cheapest(way, room)] : way.routes) {
      let price = 0;
      for (let n = 0; n < route.length; n++) price += (room[route[n] as number] as number) * (way.tables[n]?.[at] as number);
      if (!best || price < best.price) best = { price, way, route };
    }
  }
  return best;
}

/** What all members' feeds cost at one bitrate and given prices. */
export function priceAt(g: Group, at: number, room: readonly number[]): number {
  let sum = 0;
  for (const member of g.members) if (member.ways) sum += cheapestAt(member, at, room)?.price ?? Number.POSITIVE_INFINITY;
  return sum;
}

/** Best of a group at given prices, points a bit/s by uplink: its reduced value and the bitrate's index. */
export function reduced(g: Group, room: readonly number[]): { value: number; at: number } {
  const { q } = g.make;
  if (g.hull) {
    let price = 0;
    let table: Float64Array | undefined;
    for (const { ways } of g.members) {
      if (!ways) continue;
      let least = Number.POSITIVE_INFINITY;
      for (const way of ways) {
        table = way.tables[0];
        const route = cheapest(way, room);
        let sum = 0;
        for (let n = 0; n < route.length; n++) sum += room[route[n] as number] as number;
        if (sum < least) least = sum;
      }
      price += least;
    }
    const at = bestAt(g.hull, g.weight, price);
    return { value: g.weight * (q[at] as number) - price * (table?.[at] as number), at };
  }
  let value = Number.NEGATIVE_INFINITY;
  let best = 0;
  for (let i = 0; i <= g.last; i++) {
    const v = g.weight * (q[i] as number) - priceAt(g, i, room);
    if (v > value) {
      value = v;
      best = i;
    }
  }
  return { value, at: best };
}

/** Takes a group's loads at one bitrate, each member by its cheapest way, from what is left on the uplinks. */
export function takeFrom(left: number[], g: Group, at: number, room: readonly number[]): void {
  for (const member of g.members) {
    const best = cheapestAt(member, at, room);
    best?.route.forEach((u, n) => {
      left[u] = (left[u] as number) - (best.way.tables[n]?.[at] as number);
    });
  }
}

/** Feeds that a group takes from an encoder. */
export function feedsFrom(group: Pick<Group, "make" | "members">, encoder: number): number {
  let feeds = 0;
  for (const { ways, encoders } of group.members) {
    const sent = ways?.[0]?.tables.length ?? 0;
    const here = encoders.length === 1 ? (encoders[0] === encoder ? sent : 0) : encoders.includes(encoder) && sent > 0 ? 1 : 0;
    feeds += here * (1 + (group.make.rungs[0]?.length ?? 0));
  }
  return feeds;
}

/** A way settled for one member. */
export interface Sending {
  member: Member;
  protocol: Protocol | null;
  route: Route;
}
