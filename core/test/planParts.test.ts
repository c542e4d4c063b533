import fc from "fast-check";
import { allocate, type Loaded } from "../fit/plan/allocate";
import { Heap } from "../fit/plan/heap";
import { bestAt, hullOf } from "../fit/plan/hull";
import { type Losses, Shares } from "../fit/plan/losses";
import { type Cargo, eachPartition } from "../fit/plan/partitions";
import { EPSILON } from "../fit/plan/slack";

const rising = (min: number, max: number, length: number) =>
  fc
    .uniqueArray(fc.integer({ min, max }), { minLength: length, maxLength: length })
    .map((list) => Float64Array.from(list.sort((a, b) => a - b)));

/** Loads and q of the bitrates of one engine: both rise. */
const table = fc.integer({ min: 1, max: 5 }).chain((n) => fc.record({ loads: rising(1, 400, n), q: rising(0, 100, n) }));

describe("bitrates of engines that are settled", () => {
  const groups = fc.array(
    fc.record({
      own: table,
      weight: fc.integer({ min: 1, max: 5 }),
      // Which uplinks carry how many of its feeds.
      feeds: fc.array(fc.integer({ min: 0, max: 2 }), { minLength: 2, maxLength: 2 }),
    }),
    { minLength: 1, maxLength: 4 },
  );
  const loaded = ({ own, weight, feeds }: { own: { loads: Float64Array; q: Float64Array }; weight: number; feeds: number[] }): Loaded => ({
    q: own.q,
    weight,
    loads: feeds.map((count) => (count === 0 ? null : own.loads.map((load) => load * count))),
    even: feeds.some((count) => count > 0) ? { table: own.loads, feeds } : null,
  });

  /** Every set of bitrates that fits, with its points and load. */
  function* fitting(all: readonly Loaded[], room: readonly number[]): Generator<{ points: number; loadBps: number }> {
    const visit = function* (i: number, points: number, used: readonly number[]): Generator<{ points: number; loadBps: number }> {
      const g = all[i];
      if (!g) yield { points, loadBps: used.reduce((sum, load) => sum + load, 0) };
      else
        for (let at = 0; at < g.q.length; at++) {
          const next = used.map((load, u) => load + (g.loads[u]?.[at] ?? 0));
          if (next.every((load, u) => load <= (room[u] as number))) yield* visit(i + 1, points + g.weight * (g.q[at] as number), next);
        }
    };
    yield* visit(0, 0, [0, 0]);
  }

  test("are the best of all that fit, and of equals those of the least load", () => {
    fc.assert(
      fc.property(
        groups,
        fc.tuple(fc.nat(2000), fc.nat(2000)),
        fc.tuple(fc.double({ min: 0, max: 3, noNaN: true }), fc.double({ min: 0, max: 3, noNaN: true })),
        (given, room, prices) => {
          const all = given.map(loaded);
          const found = allocate(all, room, prices, Number.NEGATIVE_INFINITY);
          const ways = [...fitting(all, room)].sort((a, b) => b.points - a.points || a.loadBps - b.loadBps);
          const [best] = ways;
          if (!best) return expect(found).toBeNull();
          expect(found).toMatchObject(best);
          // What it says it comes to is what its bitrates come to.
          const at = found?.at ?? [];
          expect(all.reduce((sum, g, i) => sum + g.weight * (g.q[at[i] as number] as number), 0)).toBe(best.points);
        },
      ),
      { numRuns: 500 },
    );
  });

  test("are not given where they cannot reach so many points, and are where they just can", () => {
    fc.assert(
      fc.property(groups, fc.tuple(fc.nat(2000), fc.nat(2000)), (given, room) => {
        const all = given.map(loaded);
        const best = allocate(all, room, [0, 0], Number.NEGATIVE_INFINITY);
        if (!best) return;
        expect(allocate(all, room, [0, 0], best.points)).toEqual(best);
        expect(allocate(all, room, [0, 0], best.points + 1)).toBeNull();
      }),
      { numRuns: 300 },
    );
  });
});

test("the hull gives the bitrate that is worth most at any price", () => {
  fc.assert(
    fc.property(table, fc.integer({ min: 1, max: 5 }), fc.double({ min: 0, max: 5, noNaN: true }), ({ loads, q }, weight, price) => {
      const worth = Array.from(q, (value, i) => weight * value - price * (loads[i] as number));
      const at = bestAt(hullOf(loads, q, q.length - 1), weight, price);
      expect(worth[at]).toBeCloseTo(Math.max(...worth), 6);
    }),
    { numRuns: 500 },
  );
});

describe("feeds shared out over uplinks", () => {
  const cargo = fc.array(fc.record({ own: table, weight: fc.integer({ min: 1, max: 5 }), uplinks: fc.integer({ min: 1, max: 7 }) }), {
    minLength: 1,
    maxLength: 5,
  });
  const asked = fc.record({
    cargo,
    roomBps: fc.tuple(fc.nat(900), fc.nat(900), fc.nat(900)),
    prices: fc.tuple(
      fc.double({ min: 0, max: 2, noNaN: true }),
      fc.double({ min: 0, max: 2, noNaN: true }),
      fc.double({ min: 0, max: 2, noNaN: true }),
    ),
  });
  const cargoOf = (given: readonly { own: { loads: Float64Array; q: Float64Array }; weight: number; uplinks: number }[]): Cargo[] =>
    given.map(({ own, weight, uplinks }) => ({
      weight,
      hull: hullOf(own.loads, own.q, own.q.length - 1),
      table: own.loads,
      q: own.q,
      uplinks,
      backs: -1,
    }));

  /** The most that feeds come to over these uplinks; −Infinity: they do not fit there. */
  function reached(feeds: readonly Cargo[], uplinkOf: readonly number[], roomBps: readonly number[]): number {
    const groups = feeds.map(
      (c, i): Loaded => ({ q: c.q, weight: c.weight, loads: roomBps.map((_, u) => (u === uplinkOf[i] ? c.table : null)), even: null }),
    );
    return allocate(groups, roomBps, [0, 0, 0], Number.NEGATIVE_INFINITY)?.points ?? Number.NEGATIVE_INFINITY;
  }

  function* everyWay(feeds: readonly Cargo[], from = 0): Generator<number[]> {
    const own = feeds[from];
    if (!own) yield [];
    else for (const u of [0, 1, 2]) if ((own.uplinks >> u) & 1) for (const rest of everyWay(feeds, from + 1)) yield [u, ...rest];
  }

  test("every way that reaches the floor is told, each once, and only uplinks that may carry a feed", () => {
    fc.assert(
      fc.property(asked, fc.double({ min: 0, max: 1, noNaN: true }), ({ cargo: given, roomBps, prices }, share) => {
        const feeds = cargoOf(given);
        const all = [...everyWay(feeds)].map((way) => ({ way, points: reached(feeds, way, roomBps) }));
        const best = Math.max(...all.map((one) => one.points));
        const floor = Number.isFinite(best) ? best * share : 0;
        const told: string[] = [];
        eachPartition(
          feeds,
          roomBps,
          prices,
          () => floor - EPSILON,
          (uplinkOf) => told.push(uplinkOf.join()),
        );
        expect(new Set(told).size).toBe(told.length);
        const possible = new Set(all.map(({ way }) => way.join()));
        for (const way of told) expect(possible.has(way)).toBe(true);
        for (const { way, points } of all) if (points >= floor) expect(told).toContain(way.join());
      }),
      { numRuns: 300 },
    );
  });
});

test("the least loss of a partition is that of trying every one", () => {
  const FULL = 15;
  const list = fc.uniqueArray(fc.record({ set: fc.integer({ min: 0, max: FULL }), loss: fc.integer({ min: 0, max: 20 }) }), {
    selector: (one) => one.set,
    maxLength: 16,
  });
  fc.assert(
    fc.property(
      fc.array(list, { minLength: 1, maxLength: 4 }),
      fc.integer({ min: 0, max: FULL }),
      fc.integer({ min: 0, max: 40 }),
      (given, active, gap) => {
        // Only of what there is to be shared out.
        const inside = given.map((own) => own.filter(({ set }) => (set & ~active) === 0));
        const lists = inside.map((own): Losses => ({ sets: own.map((o) => o.set), losses: own.map((o) => o.loss) }));
        let least = Number.POSITIVE_INFINITY;
        const visit = (n: number, taken: number, loss: number) => {
          const own = inside[n];
          if (!own) {
            if (taken === active) least = Math.min(least, loss);
            return;
          }
          for (const one of own) if ((one.set & taken) === 0) visit(n + 1, taken | one.set, loss + one.loss);
        };
        visit(0, 0, 0);
        const shares = new Shares(FULL);
        const found = shares.leastLoss(lists, active, gap);
        // Beyond the gap it need not be exact, only beyond it.
        if (least <= gap) expect(found).toBe(least);
        else expect(found).toBeGreaterThan(gap);
        // Nothing of one question is left over for the next.
        expect(shares.leastLoss(lists, active, gap)).toBe(found);
      },
    ),
    { numRuns: 500 },
  );
});

test("a heap gives back everything, the greatest first", () => {
  fc.assert(
    fc.property(fc.array(fc.integer()), (values) => {
      const heap = new Heap<number>();
      for (const value of values) heap.push(value, value);
      expect(heap.size).toBe(values.length);
      expect(heap.top).toBe(values.length === 0 ? Number.NEGATIVE_INFINITY : Math.max(...values));
      expect(values.map(() => heap.pop())).toEqual([...values].sort((a, b) => b - a));
      expect(heap.pop()).toBeUndefined();
    }),
  );
});
