import { complements, sumsOf } from "./sets";
import { NOTHING } from "./slack";

/** A feed to be put on one of several uplinks, or left out: what it takes and is worth there. */
export interface Piece {
  /** By uplink: what it may be there; null: nothing. */
  on: readonly (Ware | null)[];
  /** What it is worth left out; −Infinity: it may not be. */
  out: number;
  /** The piece that may not be on the same uplink; −1: none. */
  apart: number;
}

/** What a feed may be on an uplink, by rising cells that it takes there beyond a base. */
export interface Ware {
  baseBps: number;
  cells: Int32Array;
  values: Float64Array;
  /** By choice, which of the cells it takes; −1: it cannot be here. */
  of: Int32Array;
}

/** The most that each subset comes to within so many cells, one row after the other; more cells than a row has give no more. */
interface Fill {
  cells: Float64Array;
  /** By subset, where its row begins; the last: where all rows end. */
  from: Int32Array;
}

/** What a subset comes to within so many cells. */
function filledTo({ cells, from }: Fill, subset: number, cell: number): number {
  const row = from[subset] as number;
  const last = (from[subset + 1] as number) - 1;
  return cells[Math.min(row + cell, last)] as number;
}

/** More pieces than this have too many subsets to look at each. */
export const MOST_PIECES = 13;

/**
 * The best that feeds come to when they are shared out over uplinks, exactly: what each subset of them comes to on each
 * uplink, filled in whole cells (dynamic programming of the multiple-choice knapsack), and from that the best partition
 * (max-plus subset convolution).
 */
export class Subsets {
  private readonly full: number;
  private readonly bases: Float64Array[];
  private readonly caps: Int32Array[];
  private readonly fills: readonly Fill[];

  /**
   * Those with the most choices had better come first: the last piece of a subset is tried at each of its cells. `known`:
   * the same pieces where there is nowhere less room.
   */
  constructor(
    private readonly pieces: readonly Piece[],
    private readonly roomBps: readonly number[],
    private readonly cellBps: number,
    known?: Subsets,
  ) {
    this.full = (1 << pieces.length) - 1;
    this.bases = known?.bases ?? roomBps.map((_, u) => sumsOf(pieces, (p) => p.on[u]?.baseBps ?? Number.POSITIVE_INFINITY));
    this.caps = roomBps.map((room, u) => this.capsOf(room, u));
    this.fills = known?.fills ?? this.filledAll();
  }

  /** The same where there is nowhere more room. */
  inRoom(roomBps: readonly number[]): Subsets {
    return new Subsets(this.pieces, roomBps, this.cellBps, this);
  }

  private filledAll(): Fill[] {
    const like = this.roomBps.map((_, u) => this.roomBps.findIndex((_room, v) => this.sameWares(u, v)));
    const fills: Fill[] = [];
    like.forEach((first, u) => {
      const alike = like.flatMap((other, v) => (other === u ? [v] : []));
      fills.push(first === u ? this.filled(u, alike) : (fills[first] as Fill));
    });
    return fills;
  }

  /** The most that a subset comes to on an uplink where so much room is left for it. */
  within(u: number, subset: number, roomBps: number): number {
    if ((this.caps[u] as Int32Array)[subset] === -1) return NOTHING;
    const left = roomBps - ((this.bases[u] as Float64Array)[subset] as number);
    if (left < 0) return NOTHING;
    return filledTo(this.fills[u] as Fill, subset, Math.floor(left / this.cellBps));
  }

  /** The most that a subset comes to on an uplink at a price of its room, points a bit/s. */
  atPrice(u: number, subset: number, price: number): number {
    const cap = (this.caps[u] as Int32Array)[subset] as number;
    if (cap < 0) return NOTHING;
    const { cells, from } = this.fills[u] as Fill;
    const row = from[subset] as number;
    const last = Math.min(cap, (from[subset + 1] as number) - 1 - row);
    let most = NOTHING;
    for (let cell = 0; cell <= last; cell++) {
      const value = (cells[row + cell] as number) - price * cell * this.cellBps;
      if (value > most) most = value;
    }
    return most - price * ((this.bases[u] as Float64Array)[subset] as number);
  }

  private hopeful(prices: readonly number[], floor: number): Float64Array[] {
    const { lists, roomBps } = this;
    const worth = sumsOf(this.pieces, (p) =>
      p.on.reduce((most, ware, u) => Math.max(most, ware ? worthOf(ware, prices[u] as number, this.cellBps) : NOTHING), p.out),
    );
    const rooms = roomBps.map((room, u) => room * (prices[u] as number));
    const gap = rooms.reduce((sum, own) => sum + own, worth[this.full] as number) - floor;
    lists.forEach((list, n) => {
      const left = gap - (rooms[n] ?? 0);
      for (let s = 0; s < list.length; s++) if ((worth[s] as number) - (list[s] as number) > left) list[s] = NOTHING;
    });
    return lists;
  }

  private get lists(): Float64Array[] {
    const lists: Float64Array[] = this.roomBps.map((_, u) => {
      const fill = this.fills[u] as Fill;
      const caps = this.caps[u] as Int32Array;
      const list = new Float64Array(caps.length).fill(NOTHING);
      for (let s = 0; s < caps.length; s++) if ((caps[s] as number) >= 0) list[s] = filledTo(fill, s, caps[s] as number);
      return list;
    });
    if (this.pieces.some((p) => p.out !== NOTHING)) lists.push(sumsOf(this.pieces, (p) => p.out));
    return lists;
  }

  /**
   * The most that all come to; for each piece, that with it left out; and with it on an uplink, by its cells there. Only of
   * what reaches `floor`: sets that lose too much against the bound at these prices of uplinks are passed over.
   */
  marginals(prices: readonly number[], floor: number): { best: number; out: number[]; on: Float64Array[][] } {
    const { full } = this;
    const lists = this.hopeful(prices, floor);
    const { best, others } = complements(lists);
    const uplinks = this.roomBps.length;
    const out = this.pieces.map((_, i) => {
      const [outs, rest] = [lists[uplinks], others[uplinks]];
      let most = NOTHING;
      if (outs && rest)
        for (let s = 0; s <= full; s++) if ((s >> i) & 1) most = Math.max(most, (outs[s] as number) + (rest[full & ~s] as number));
      return most;
    });
    const on = this.pieces.map((_, i) => this.roomBps.map((_room, u) => this.withPiece(i, u, others[u] as Float64Array)));
    return { best, out, on };
  }

  /** By cell of a piece on an uplink: the most that everything comes to with it there. */
  private withPiece(i: number, u: number, others: Float64Array): Float64Array {
    const ware = this.pieces[i]?.on[u];
    if (!ware) return new Float64Array(0);
    const { cells, values } = ware;
    const most = new Float64Array(cells.length).fill(NOTHING);
    const caps = this.caps[u] as Int32Array;
    const fill = this.fills[u] as Fill;
    const none = NOTHING;
    for (let s = 0; s <= this.full; s++) {
      if ((s >> i) & 1) continue;
      const cap = caps[s | (1 << i)] as number;
      const rest = others[this.full & ~s & ~(1 << i)] as number;
      if (cap < 0 || rest === none) continue;
      for (let k = 0; k < cells.length && (cells[k] as number) <= cap; k++) {
        const value = filledTo(fill, s, cap - (cells[k] as number)) + rest + (values[k] as number);
        if (value > (most[k] as number)) most[k] = value;
      }
    }
    return most;
  }

  /** By subset: cells that are left on an uplink beyond their bases; −1: they cannot be there together. */
  private capsOf(room: number, u: number): Int32Array {
    const pairs = this.pieces.flatMap((p, i) => (p.apart < 0 ? [] : [(1 << i) | (1 << p.apart)]));
    const bases = this.bases[u] as Float64Array;
    const caps = new Int32Array(bases.length).fill(-1);
    for (let s = 0; s < caps.length; s++)
      if ((bases[s] as number) <= room) caps[s] = Math.floor((room - (bases[s] as number)) / this.cellBps);
    for (const both of pairs) for (let s = 0; s < caps.length; s++) if ((s & both) === both) caps[s] = -1;
    return caps;
  }

  /** Filled for the most room on any of these uplinks, which are alike. */
  private filled(u: number, alike: readonly number[]): Fill {
    const most = new Int32Array(this.full + 1).fill(-1);
    for (const v of alike) {
      const caps = this.caps[v] as Int32Array;
      for (let s = 0; s <= this.full; s++) if ((caps[s] as number) > (most[s] as number)) most[s] = caps[s] as number;
    }
    // With each piece at its most cells there is no use for any more.
    const spans = sumsOf(this.pieces, (p) => p.on[u]?.cells.at(-1) ?? 0);
    const from = new Int32Array(this.full + 2);
    for (let s = 0; s <= this.full; s++) from[s + 1] = (from[s] as number) + Math.min(most[s] as number, spans[s] as number) + 1;
    const cells = new Float64Array(from[this.full + 1] as number).fill(NOTHING);
    cells.fill(0, 0, from[1]);
    for (let s = 1; s <= this.full; s++) {
      const row = from[s] as number;
      const end = from[s + 1] as number;
      if (row === end) continue;
      const bit = 31 - Math.clz32(s);
      const before = from[s & ~(1 << bit)] as number;
      const last = (from[(s & ~(1 << bit)) + 1] as number) - 1;
      const { cells: steps, values } = (this.pieces[bit] as Piece).on[u] as Ware;
      for (let k = 0; k < steps.length; k++) {
        const value = values[k] as number;
        let j = row + (steps[k] as number);
        for (let b = before; j < end && b < last; j++, b++) {
          const sum = (cells[b] as number) + value;
          if (sum > (cells[j] as number)) cells[j] = sum;
        }
        for (const sum = (cells[last] as number) + value; j < end; j++) if (sum > (cells[j] as number)) cells[j] = sum;
      }
    }
    return { cells, from };
  }

  private sameWares(u: number, v: number): boolean {
    return this.pieces.every(({ on }) => {
      const [a, b] = [on[u], on[v]];
      if (a === b) return true;
      if (!a || !b || a.baseBps !== b.baseBps || a.cells.length !== b.cells.length) return false;
      return a.cells.every((cell, k) => cell === b.cells[k] && a.values[k] === b.values[k]);
    });
  }
}

/** What a ware is worth at a price of the uplink's room. */
function worthOf({ baseBps, cells, values }: Ware, price: number, cellBps: number): number {
  let most = NOTHING;
  for (let k = 0; k < cells.length; k++) most = Math.max(most, (values[k] as number) - price * (baseBps + (cells[k] as number) * cellBps));
  return most;
}
