import type { Protocol } from "@ukaza/contract/settings";
import type { Choice } from "./choices";
import type { Group, Member, Sending } from "./groups";
import type { Make } from "./makes";
import type { Model, Route, Taker } from "./model";
import { type Racks, settingsKey } from "./packing";
import type { Found } from "./search";
import type { Pick } from "./settle";
import { partitioned } from "./share";
import type { Terms } from "./terms";

/** A destination with what it is told; `null`: its relay passes it on. */
interface Item {
  taker: Taker;
  terms: Terms;
  choice: Choice | null;
  key: string;
  /** The least that its feeds weigh in all, bit/s. */
  leastBps: number;
}

interface Running {
  encoder: number;
  items: Item[];
  make: Make;
}

/** Whether picks leave only encoders and uplinks open, each destination from one encoder: what `arranged` can do. */
export const canArrange = (model: Model, picks: ReadonlyMap<number, Pick>): boolean =>
  model.takers.every((t) => {
    const pick = picks.get(t.index);
    if (pick === undefined || typeof pick === "string") return true;
    return pick.encoders.every((at) => at.length === 1) && (!t.given.backup || t.protocols.every((list) => list.length === 1));
  });

/**
 * Puts destinations whose settings are known on encoders and their feeds on uplinks: the fewest engines, then the least
 * load. null: it cannot be done.
 */
export function arranged(model: Model, picks: ReadonlyMap<number, Pick>, racks: Racks, roomBps: readonly number[]): Found | null {
  return new Arrangement(model, picks, racks, roomBps).run();
}

class Arrangement {
  private readonly items: Item[];
  private readonly leastBps: number;
  private readonly racks: { engines: number[]; lumaPerS: number[]; feeds: number[] };
  private readonly running: Running[] = [];
  private readonly routings = new Map<string, { loadBps: number; at: number[] } | null>();
  private best: Found | null = null;

  constructor(
    private readonly model: Model,
    private readonly picks: ReadonlyMap<number, Pick>,
    racks: Racks,
    private readonly roomBps: readonly number[],
  ) {
    this.racks = { engines: [...racks.engines], lumaPerS: [...racks.lumaPerS], feeds: [...racks.feeds] };
    const sent = model.takers.flatMap((taker): Item[] => {
      const choice = picks.get(taker.index);
      if (choice === undefined || typeof choice === "string") return [];
      const leastBps = choice.loads.reduce((sum, list) => sum + Math.min(...list), 0);
      return [{ taker, terms: choice.terms, choice, key: settingsKey({ taker, choice }), leastBps }];
    });
    this.leastBps = sent.reduce((sum, item) => sum + item.leastBps, 0);
    // Those told the same stand together, the largest pictures first; whoever is passed on comes last.
    sent.sort((a, b) => (b.choice?.lumaPerS ?? 0) - (a.choice?.lumaPerS ?? 0) || (a.key < b.key ? -1 : a.key > b.key ? 1 : 0));
    const passed = model.takers.flatMap((taker): Item[] => {
      if (picks.get(taker.index) !== "passed") return [];
      const relay = sent.find((item) => item.taker.index === taker.relay);
      const terms = relay && taker.terms.find((t) => t.picture === relay.terms.picture);
      return terms ? [{ taker, terms, choice: null, key: relay.key, leastBps: 0 }] : [];
    });
    this.items = [...sent, ...passed];
  }

  run(): Found | null {
    const passed = [...this.picks.values()].filter((pick) => pick === "passed").length;
    if (this.items.filter((item) => item.choice === null).length < passed) return null;
    this.place(0, 0);
    return this.best;
  }

  /** Engines that are needed at least for those from a place on. */
  private stillNeeded(from: number): number {
    const keys = new Map<string, number>();
    for (const { key, choice } of this.items.slice(from)) if (choice) keys.set(key, choice.engines);
    for (const { items } of this.running) for (const { key } of items) keys.delete(key);
    return [...keys.values()].reduce((sum, count) => sum + count, 0);
  }

  private place(n: number, engines: number): void {
    const { best } = this;
    if (best) {
      const least = engines + this.stillNeeded(n);
      if (least > best.engines || (least === best.engines && this.leastBps >= best.allocation.loadBps - 0.5)) return;
    }
    const item = this.items[n];
    if (!item) {
      this.settle(engines);
      return;
    }
    const feeds = (item.taker.given.backup ? 2 : 1) * (item.choice?.engines ?? 0);
    for (const group of this.running) {
      if (item.choice ? group.items[0]?.key !== item.key : !group.items.some((i) => i.taker.index === item.taker.relay)) continue;
      if (item.taker.ladder || !this.runsOn(item, group.encoder) || (this.racks.feeds[group.encoder] as number) < feeds) continue;
      const make = this.makeFor([...group.items, item], group.encoder);
      if (!make) continue;
      const before = group.make;
      group.items.push(item);
      group.make = make;
      this.racks.feeds[group.encoder] = (this.racks.feeds[group.encoder] as number) - feeds;
      this.place(n + 1, engines);
      this.racks.feeds[group.encoder] = (this.racks.feeds[group.encoder] as number) + feeds;
      group.items.pop();
      group.make = before;
    }
    if (!item.choice) return;
    const tried = new Set<string>();
    for (const [encoder] of item.choice.encoders as [number][]) {
      const { engines: free, lumaPerS, feeds: open } = this.racks;
      // Of encoders that can do the same and have the same left and running, one is as good as another.
      const state = `${this.model.alike[encoder]} ${free[encoder]} ${lumaPerS[encoder]} ${open[encoder]} ${this.running.flatMap((g, i) => (g.encoder === encoder ? [i] : [])).join()}`;
      if (tried.has(state)) continue;
      tried.add(state);
      const { engines: count, lumaPerS: luma } = item.choice;
      if ((free[encoder] as number) < count || (lumaPerS[encoder] as number) < luma || (open[encoder] as number) < feeds) continue;
      const make = this.makeFor([item], encoder);
      if (!make) continue;
      this.take(encoder, count, luma, feeds);
      this.running.push({ encoder, items: [item], make });
      this.place(n + 1, engines + count);
      this.running.pop();
      this.take(encoder, -count, -luma, -feeds);
    }
  }

  private take(encoder: number, engines: number, lumaPerS: number, feeds: number): void {
    const { racks } = this;
    racks.engines[encoder] = (racks.engines[encoder] as number) - engines;
    racks.lumaPerS[encoder] = (racks.lumaPerS[encoder] as number) - lumaPerS;
    racks.feeds[encoder] = (racks.feeds[encoder] as number) - feeds;
  }

  private runsOn(item: Item, encoder: number): boolean {
    return item.choice === null || item.choice.encoders.some((at) => at[0] === encoder);
  }

  private makeFor(items: readonly Item[], encoder: number): Make | undefined {
    const terms = items.map((i) => i.terms).sort((a, b) => a.id - b.id);
    const bps = items[0]?.choice?.bps;
    const engines = items[0]?.choice?.engines;
    return this.model.makes.of(terms, [encoder]).find((make) => make.engines === engines && make.bps.includes(bps as number));
  }

  private settle(engines: number): void {
    const feeds = this.running.flatMap(({ items, make }) =>
      items.flatMap((item) => (item.choice ? feedsOf(item, make, this.roomBps.length) : [])),
    );
    const key = feeds.map((f) => `${f.item.taker.index} ${f.make.base.audioBps} ${f.make.base.audioHz}`).join();
    let routing = this.routings.get(key);
    if (routing === undefined) {
      routing = partitioned(
        feeds.map((f) => f.loads),
        feeds.map((f) => f.apart),
        this.roomBps,
      );
      this.routings.set(key, routing);
    }
    if (!routing) return;
    const { best } = this;
    if (best && (engines > best.engines || (engines === best.engines && routing.loadBps >= best.allocation.loadBps - 0.5))) return;
    this.best = this.foundFrom(engines, routing.loadBps, feeds, routing.at);
  }

  private foundFrom(engines: number, loadBps: number, feeds: readonly Feed[], at: readonly number[]): Found {
    const groups = this.running.map(({ encoder, items, make }): Group => {
      const members = items.map(
        ({ taker, terms, choice }): Member => ({ taker, terms, encoders: choice ? [encoder] : [], ways: choice ? [] : null }),
      );
      const weight = members.reduce((sum, m) => sum + m.taker.weight, 0);
      return { encoders: [encoder], make, members, weight, last: make.bps.length - 1, hull: null };
    });
    const sendings = groups.map((g) =>
      g.members.map((member): Sending => {
        const own = feeds.flatMap((f, i) => (f.item.taker === member.taker ? [{ feed: f, uplink: at[i] as number }] : []));
        const [first] = own;
        if (!first) return { member, protocol: null, route: [] };
        const over = own.map((o) => o.uplink);
        const route = member.taker.routes.find((r) => sameUplinks(r, over)) ?? over;
        return { member, protocol: first.feed.protocols[first.uplink] as Protocol, route };
      }),
    );
    const indexes = this.running.map(({ items, make }) => make.bps.indexOf(items[0]?.choice?.bps as number));
    const points = groups.reduce((sum, g, i) => sum + g.weight * (g.make.q[indexes[i] as number] as number), 0);
    return { groups, sendings, engines, allocation: { points, loadBps, at: indexes } };
  }
}

/** Over the same uplinks, whichever is first; a route over one uplink twice is one feed here. */
const sameUplinks = (route: Route, over: readonly number[]): boolean =>
  [...new Set(route)].length === over.length && route.every((u) => over.includes(u));

interface Feed {
  item: Item;
  make: Make;
  /** By uplink: load, bit/s, Infinity where it cannot go; and the protocol with it. */
  loads: Float64Array;
  protocols: (Protocol | null)[];
  /** Whether it may not be on the uplink of the feed before. */
  apart: boolean;
}

function feedsOf(item: Item, make: Make, uplinks: number): Feed[] {
  const { taker, choice } = item;
  const at = make.bps.indexOf(choice?.bps as number);
  const way = taker.encoders.findIndex((e) => e.length === 1 && choice?.encoders.some((own) => own[0] === e[0]));
  const spoken = taker.protocols[way] ?? [];
  const twice = taker.routes.some((r) => r.length > 1 && r[0] === r[1]) ? 2 : 1;
  const over = new Set(taker.routes.flat());
  const loads = new Float64Array(uplinks).fill(Number.POSITIVE_INFINITY);
  const protocols = new Array<Protocol | null>(uplinks).fill(null);
  for (const u of over)
    for (const protocol of spoken) {
      const load = (make.loads(protocol, u)[at] as number) * twice;
      if (load < (loads[u] as number)) {
        loads[u] = load;
        protocols[u] = protocol;
      }
    }
  const feed = { item, make, loads, protocols, apart: false };
  return taker.given.backup && twice === 1 ? [feed, { ...feed, apart: true }] : [feed];
}
