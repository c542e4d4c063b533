import { type Allocation, allocate, type Loaded } from "./allocate";
import type { Group, Member, Sending } from "./groups";
import { bestAt, hullOf } from "./hull";
import type { Route } from "./model";
import { type Cargo, eachPartition, MOST_CARGO } from "./partitions";
import { EPSILON } from "./slack";
import type { Way } from "./spots";

/** Groups with a way settled for each member, and bitrates. */
export interface Routed {
  sendings: readonly (readonly Sending[])[];
  allocation: Allocation;
}

interface Choice {
  way: Way;
  route: Route;
}

/** A member to be routed: its group's place and what it may choose. */
interface Item {
  group: number;
  member: Member;
  choices: Choice[];
}

const STEPS = 5;

/**
 * Finds the best ways for groups whose pictures and engines are settled: member by member each uplink is tried, the bound
 * being the Lagrangian relaxation of the uplinks with those not yet sent on the cheapest; bitrates are settled exactly at
 * the end. null: nothing fits that reaches `floor` points, or that beats as many points with less load. `anyWillDo`: the first
 * that fits is as good as the best.
 */
export function route(
  groups: readonly Group[],
  roomBps: readonly number[],
  start: readonly number[],
  floor: number,
  tieLoadBps: number,
  anyWillDo = false,
): Routed | null {
  return new Routing(groups, roomBps, floor, tieLoadBps, anyWillDo).run(start);
}

class Routing {
  private readonly items: Item[];
  private readonly chosen: (Choice | null)[];
  private best: Routed | null = null;

  constructor(
    private readonly groups: readonly Group[],
    private readonly roomBps: readonly number[],
    private floor: number,
    private tieLoadBps: number,
    private readonly anyWillDo: boolean,
  ) {
    const heavy = (item: Item) => item.choices[0]?.way.tables[0]?.[groups[item.group]?.last ?? 0] ?? 0;
    this.items = groups
      .flatMap((g, group) =>
        g.members.flatMap((member): Item[] =>
          member.ways ? [{ group, member, choices: member.ways.flatMap((way) => way.routes.map((r) => ({ way, route: r }))) }] : [],
        ),
      )
      .sort((a, b) => heavy(b) - heavy(a));
    this.chosen = this.items.map(() => null);
  }

  run(start: readonly number[]): Routed | null {
    const own = [...start];
    if (this.items.length > 0 && !this.hopes(own)) return null;
    const cargo = this.cargo();
    if (!cargo) this.visit(0, own);
    else
      eachPartition(
        cargo.map((c) => c.cargo),
        this.roomBps,
        own,
        () => this.floor - EPSILON,
        (uplinkOf) => {
          // With no more points to win, and load the same whatever the way, one way is as good as another.
          if (this.best && this.atTop) return;
          this.items.forEach((item, i) => {
            const taken = cargo.flatMap((c, n) => (c.item === i ? [uplinkOf[n] as number] : []));
            this.chosen[i] = item.choices.find((c) => c.route.every((u, n) => u === taken[n])) ?? null;
          });
          if (this.chosen.every((choice) => choice !== null)) this.settle(own);
        },
      );
    return this.best;
  }

  private get atTop(): boolean {
    return this.best !== null && this.groups.every((g, i) => this.best?.allocation.at[i] === g.make.q.length - 1);
  }

  /** The feeds one by one, where all of a group weigh the same whatever their way and there are few enough; null: they do not. */
  private cargo(): { item: number; cargo: Cargo }[] | null {
    const found: { item: number; cargo: Cargo }[] = [];
    for (const [item, { group, member, choices }] of this.items.entries()) {
      const { hull, make, members } = this.groups[group] as Group;
      const table = choices[0]?.way.tables[0];
      const feeds = choices[0]?.route.length ?? 0;
      if (!hull || !table || choices.some((c) => c.route.length > 1 && c.route[0] === c.route[1])) return null;
      // What a relay passes on counts with the relay's own feed.
      const passed = members.reduce((sum, m) => sum + (m.ways === null && m.taker.relay === member.taker.index ? m.taker.weight : 0), 0);
      const uplinks = choices.reduce((mask, c) => c.route.reduce((bits, u) => bits | (1 << u), mask), 0);
      for (let n = 0; n < feeds; n++)
        found.push({
          item,
          cargo: {
            weight: (member.taker.weight + passed) / feeds,
            hull,
            table,
            q: make.q,
            uplinks,
            backs: n === 0 ? -1 : found.length - 1,
          },
        });
    }
    return found.length > 0 && found.length <= MOST_CARGO ? found : null;
  }

  /** The bound at given prices, and what is left on the uplinks there. */
  private dual(room: readonly number[], left: number[]): number {
    let value = 0;
    for (let u = 0; u < room.length; u++) {
      left[u] = this.roomBps[u] as number;
      value += (room[u] as number) * (this.roomBps[u] as number);
    }
    for (let g = 0; g < this.groups.length; g++) {
      const group = this.groups[g] as Group;
      const { q } = group.make;
      const now: Choice[] = [];
      let last = group.last;
      let table: Float64Array | null = null;
      let even = true;
      let price = 0;
      for (let i = 0; i < this.items.length; i++) {
        const item = this.items[i] as Item;
        if (item.group !== g) continue;
        const choice: Choice = this.chosen[i] ?? this.cheapest(item, room);
        if (this.chosen[i]) last = Math.min(last, choice.way.last);
        for (const own of choice.way.tables) {
          if (table && own !== table) even = false;
          table = own;
        }
        for (const u of choice.route) price += room[u] as number;
        now.push(choice);
      }
      let at = 0;
      if (even && group.hull && table) {
        at = bestAt(hullOf(table, q, last), group.weight, price);
        value += group.weight * (q[at] as number) - price * (table[at] as number);
      } else {
        let best = Number.NEGATIVE_INFINITY;
        for (let b = 0; b <= last; b++) {
          let v = group.weight * (q[b] as number);
          for (let i = 0; i < this.items.length; i++) {
            const item = this.items[i] as Item;
            if (item.group === g) v -= this.priceOf(item, this.chosen[i] ?? null, b, room);
          }
          if (v > best) {
            best = v;
            at = b;
          }
        }
        value += best;
      }
      for (const { way, route: r } of now)
        for (let n = 0; n < r.length; n++) left[r[n] as number] = (left[r[n] as number] as number) - (way.tables[n]?.[at] as number);
    }
    return value;
  }

  private cheapest(item: Item, room: readonly number[]): Choice {
    let best = item.choices[0] as Choice;
    let least = Number.POSITIVE_INFINITY;
    for (const choice of item.choices) {
      let sum = 0;
      for (let n = 0; n < choice.route.length; n++)
        sum += (room[choice.route[n] as number] as number) * (choice.way.tables[n]?.[0] as number);
      if (sum < least) {
        least = sum;
        best = choice;
      }
    }
    return best;
  }

  private priceOf(item: Item, chosen: Choice | null, at: number, room: readonly number[]): number {
    let least = Number.POSITIVE_INFINITY;
    for (const { way, route: r } of chosen ? [chosen] : item.choices) {
      if (at > way.last) continue;
      let sum = 0;
      for (let n = 0; n < r.length; n++) sum += (room[r[n] as number] as number) * (way.tables[n]?.[at] as number);
      least = Math.min(least, sum);
    }
    return least;
  }

  /** Lets prices descend for a few steps; true: there is hope left. */
  private hopes(prices: number[]): boolean {
    const left = prices.map(() => 0);
    const room = [...prices];
    let bound = Number.POSITIVE_INFINITY;
    let scale = 1;
    for (let step = 0; step < STEPS; step++) {
      const value = this.dual(room, left);
      if (value < bound) {
        bound = value;
        for (let u = 0; u < room.length; u++) prices[u] = room[u] as number;
      } else scale *= 0.5;
      if (bound < this.floor - EPSILON) return false;
      let square = 0;
      for (let u = 0; u < room.length; u++) if ((left[u] as number) < 0 || (room[u] as number) > 0) square += (left[u] as number) ** 2;
      if (square === 0) break;
      const target = Number.isFinite(this.floor) ? this.floor : 0.98 * bound;
      const move = (scale * Math.max(value - target, 1e-4 * value)) / square;
      for (let u = 0; u < room.length; u++) room[u] = Math.max(0, (room[u] as number) - move * (left[u] as number));
    }
    // As many points as the best, all of it at the top: only less load would be better.
    if (bound <= this.floor + EPSILON && this.best && prices.every((p) => p === 0)) return this.groups.some((g) => !g.hull);
    return true;
  }

  private fits(): boolean {
    const least = this.roomBps.map(() => 0);
    for (const choice of this.chosen)
      choice?.route.forEach((u, n) => {
        least[u] = (least[u] as number) + (choice.way.tables[n]?.[0] as number);
      });
    return least.every((load, u) => load <= (this.roomBps[u] as number));
  }

  private visit(depth: number, prices: number[]): void {
    if (depth === this.items.length) {
      this.settle(prices);
      return;
    }
    const item = this.items[depth] as Item;
    const left = prices.map(() => 0);
    const children: { choice: Choice; value: number }[] = [];
    for (const choice of item.choices) {
      this.chosen[depth] = choice;
      if (!this.fits()) continue;
      const value = this.dual(prices, left);
      if (value >= this.floor - EPSILON) children.push({ choice, value });
    }
    children.sort((a, b) => b.value - a.value);
    for (const { choice, value } of children) {
      if (value < this.floor - EPSILON) break;
      this.chosen[depth] = choice;
      const own = [...prices];
      if (this.hopes(own)) this.visit(depth + 1, own);
    }
    this.chosen[depth] = null;
  }

  private settle(prices: readonly number[]): void {
    const sendings = this.groups.map((g, index): Sending[] =>
      g.members.map((member) => {
        const at = this.items.findIndex((item) => item.group === index && item.member === member);
        const choice = at < 0 ? null : this.chosen[at];
        return { member, protocol: choice?.way.protocol ?? null, route: choice?.route ?? [] };
      }),
    );
    const loaded = this.groups.map((g, index): Loaded => loadsOf(g, sendings[index] as Sending[], this.roomBps.length));
    const allocation = allocate(loaded, this.roomBps, prices, this.floor);
    if (!allocation) return;
    const tie = allocation.points === this.floor && allocation.loadBps >= this.tieLoadBps - 0.5;
    if (tie || allocation.points < this.floor) return;
    this.best = { sendings, allocation };
    this.floor = this.anyWillDo ? Number.POSITIVE_INFINITY : allocation.points;
    this.tieLoadBps = allocation.loadBps;
  }
}

/** Exact loads of a group whose members' ways are settled. */
function loadsOf({ make, weight }: Group, sendings: readonly Sending[], uplinks: number): Loaded {
  const loads = new Array<Float64Array | null>(uplinks).fill(null);
  const feeds = new Array<number>(uplinks).fill(0);
  let table: Float64Array | null = null;
  let even = true;
  for (const { protocol, route: r } of sendings)
    if (protocol !== null)
      for (const u of r) {
        const own = make.loads(protocol, u);
        const sum = loads[u];
        loads[u] = sum ? sum.map((load, i) => load + (own[i] as number)) : own;
        feeds[u] = (feeds[u] as number) + 1;
        if (table && table !== own) even = false;
        table = own;
      }
  return { q: make.q, weight, loads, even: even && table ? { table, feeds } : null };
}
