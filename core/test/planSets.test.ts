import fc from "fast-check";
import { type Piece, Subsets, type Ware } from "../fit/plan/subsets";

/** Feeds, room of uplinks and prices at random; loads lie anywhere, not only at the beginnings of cells. */
const CELL_BPS = 100;
interface Feed {
  /** By uplink: what it may be there. */
  on: { loadBps: number; value: number }[][];
  out: number;
}
const choices = fc.array(fc.record({ loadBps: fc.integer({ min: 1, max: 900 }), value: fc.integer({ min: 0, max: 50 }) }), {
  maxLength: 4,
});
const feed = (uplinks: number): fc.Arbitrary<Feed> =>
  fc.record({
    on: fc.array(choices, { minLength: uplinks, maxLength: uplinks }),
    out: fc.oneof(fc.constant(Number.NEGATIVE_INFINITY), fc.integer({ min: 0, max: 10 })),
  });
const question = fc.integer({ min: 1, max: 3 }).chain((uplinks) =>
  fc.record({
    feeds: fc.array(feed(uplinks), { minLength: 1, maxLength: 4 }),
    roomBps: fc.array(fc.integer({ min: 0, max: 1500 }), { minLength: uplinks, maxLength: uplinks }),
    sunkBps: fc.array(fc.integer({ min: 0, max: 1500 }), { minLength: uplinks, maxLength: uplinks }),
    prices: fc.array(fc.double({ min: 0, max: 0.1, noNaN: true }), { minLength: uplinks, maxLength: uplinks }),
  }),
);

function wareOf(own: Feed["on"][number]): Ware | null {
  if (own.length === 0) return null;
  const baseBps = Math.min(...own.map((c) => c.loadBps));
  const cellOf = (c: { loadBps: number }) => Math.floor((c.loadBps - baseBps) / CELL_BPS);
  const cells = [...new Set(own.map(cellOf))].sort((a, b) => a - b);
  const values = cells.map((cell) => Math.max(...own.filter((c) => cellOf(c) === cell).map((c) => c.value)));
  return {
    baseBps,
    cells: Int32Array.from(cells),
    values: Float64Array.from(values),
    of: Int32Array.from(own, (c) => cells.indexOf(cellOf(c))),
  };
}

const piecesOf = (feeds: readonly Feed[]): Piece[] => feeds.map(({ on, out }) => ({ on: on.map(wareOf), out, apart: -1 }));

/** A feed on an uplink as one of its wares' cells, or left out: everything that there is to try, with what it comes to. */
type Put = { uplink: number; cell: number; bps: number; value: number };
function putsOf(piece: Piece): Put[] {
  const puts = piece.on.flatMap((ware, uplink) =>
    ware
      ? Array.from(ware.cells, (cell, k) => ({ uplink, cell: k, bps: ware.baseBps + cell * CELL_BPS, value: ware.values[k] as number }))
      : [],
  );
  return piece.out === Number.NEGATIVE_INFINITY ? puts : [...puts, { uplink: -1, cell: -1, bps: 0, value: piece.out }];
}

function* ways(pieces: readonly Piece[], roomBps: readonly number[]): Generator<{ puts: Put[]; value: number }> {
  const all = pieces.map(putsOf);
  const visit = function* (i: number, puts: Put[], left: readonly number[], value: number): Generator<{ puts: Put[]; value: number }> {
    if (i === all.length) yield { puts, value };
    else
      for (const put of all[i] ?? []) {
        const rest = left.map((room, u) => (u === put.uplink ? room - put.bps : room));
        if (rest.every((room) => room >= 0)) yield* visit(i + 1, [...puts, put], rest, value + put.value);
      }
  };
  yield* visit(0, [], roomBps, 0);
}

const most = (values: readonly number[]) => values.reduce((best, value) => Math.max(best, value), Number.NEGATIVE_INFINITY);

/** What there is to tell of feeds in so much room, by trying everything. */
function tried(pieces: readonly Piece[], roomBps: readonly number[]) {
  const all = [...ways(pieces, roomBps)];
  const where = (test: (puts: Put[]) => boolean) => most(all.filter((way) => test(way.puts)).map((way) => way.value));
  return {
    best: most(all.map((way) => way.value)),
    out: pieces.map((_, i) => where((puts) => puts[i]?.uplink === -1)),
    on: pieces.map((piece, i) =>
      piece.on.map((ware, u) => Array.from(ware?.cells ?? [], (_, k) => where((puts) => puts[i]?.uplink === u && puts[i]?.cell === k))),
    ),
  };
}

const told = ({ best, out, on }: ReturnType<Subsets["marginals"]>) => ({
  best,
  out,
  on: on.map((byUplink) => byUplink.map((list) => Array.from(list))),
});

test("the best of all feeds, with each left out and in each cell of each uplink, is what trying everything finds", () => {
  fc.assert(
    fc.property(question, ({ feeds, roomBps, prices }) => {
      const pieces = piecesOf(feeds);
      expect(told(new Subsets(pieces, roomBps, CELL_BPS).marginals(prices, Number.NEGATIVE_INFINITY))).toEqual(tried(pieces, roomBps));
    }),
    { numRuns: 300 },
  );
});

test("in less room the fills that are there already say the same as new ones", () => {
  fc.assert(
    fc.property(question, ({ feeds, roomBps, sunkBps, prices }) => {
      const pieces = piecesOf(feeds);
      const less = roomBps.map((room, u) => Math.min(room, sunkBps[u] as number));
      const sunk = new Subsets(pieces, roomBps, CELL_BPS).inRoom(less);
      expect(told(sunk.marginals(prices, Number.NEGATIVE_INFINITY))).toEqual(tried(pieces, less));
    }),
    { numRuns: 300 },
  );
});

test("under a floor nothing is lost that reaches it, whatever the prices", () => {
  fc.assert(
    fc.property(question, ({ feeds, roomBps, prices }) => {
      const pieces = piecesOf(feeds);
      const all = tried(pieces, roomBps);
      const found = told(new Subsets(pieces, roomBps, CELL_BPS).marginals(prices, all.best - 1e-6));
      const agree = (own: number, whole: number) => {
        if (whole >= all.best - 1e-6) expect(own).toBe(whole);
        // What does not reach it may be told as less, never as more.
        else expect(own).toBeLessThanOrEqual(whole);
      };
      agree(found.best, all.best);
      found.out.forEach((own, i) => {
        agree(own, all.out[i] as number);
      });
      found.on.forEach((byUplink, i) => {
        byUplink.forEach((list, u) => {
          list.forEach((own, k) => {
            agree(own, all.on[i]?.[u]?.[k] as number);
          });
        });
      });
    }),
    { numRuns: 300 },
  );
});

test("a set of feeds on one uplink comes to what trying everything finds, at any room and at any price", () => {
  fc.assert(
    fc.property(question, fc.nat(1500), fc.double({ min: 0, max: 0.1, noNaN: true }), ({ feeds, roomBps }, leftBps, price) => {
      const pieces = piecesOf(feeds);
      const subsets = new Subsets(pieces, roomBps, CELL_BPS);
      roomBps.forEach((roomBps, u) => {
        const room = Math.min(roomBps, leftBps);
        for (let set = 0; set < 1 << pieces.length; set++) {
          const own = pieces
            .filter((_, i) => (set >> i) & 1)
            .map((p): Piece => ({ ...p, on: p.on.map((ware, v) => (v === u ? ware : null)), out: Number.NEGATIVE_INFINITY }));
          const inRoom = (bps: number) => [...ways(own, own[0]?.on.map(() => bps) ?? [bps])];
          expect(subsets.within(u, set, room)).toBe(most(inRoom(room).map((way) => way.value)));
          const priced = inRoom(roomBps).map((way) => way.value - price * way.puts.reduce((sum, put) => sum + put.bps, 0));
          if (priced.length === 0) expect(subsets.atPrice(u, set, price)).toBe(Number.NEGATIVE_INFINITY);
          else expect(subsets.atPrice(u, set, price)).toBeCloseTo(most(priced), 6);
        }
      });
    }),
    { numRuns: 150 },
  );
});
