import type { Bound, Parts, Prices } from "./bound";
import { type Choice, cellOf, passedOn, piecesOf, type Stand, standsOf } from "./choices";
import { type EnginesSide, enginesSide } from "./engineSets";
import type { Makes } from "./makes";
import { type Racks, racksOf } from "./packing";
import { partsOf } from "./parts";
import type { Scope } from "./scope";
import { EPSILON, NOTHING } from "./slack";
import { MOST_PIECES, type Piece, Subsets } from "./subsets";

/** Times that both sides are brought nearer to agreeing at the most, and the share of the gap or of the choices that each must close. */
const EVENINGS = 8;
const WORTHWHILE = 0.1;

interface Given {
  roomBps: readonly number[];
  racks: Racks;
  makes: Makes;
  /** Points a bit/s at which uplinks are priced to see which sets matter. */
  prices: readonly number[];
  /** What all engines are worth to those who give something up for them. */
  enginesWorth: number;
}

/**
 * What every single choice (this picture at this bitrate over this uplink) can come to at most, from all ways to share all
 * feeds out over the uplinks, with engines priced. Sharper than prices on uplinks: feeds come in steps and seldom fill an
 * uplink to its end.
 */
export class Narrowing {
  private constructor(
    private readonly stands: readonly Stand[],
    private readonly given: Given,
    readonly cellBps: number,
    /** No answer has more points than this. */
    readonly bound: number,
    private readonly sides: { lines: LinesSide; engines: EnginesSide | null },
  ) {}

  /**
   * For answers of at least `floor` points; `parts` of the bound of an empty plan at these prices. null: there are too many
   * feeds to look at every subset.
   */
  static of(scope: Scope, bound: Bound, parts: Parts, prices: Prices, floor: number): Narrowing | null {
    const stands = standsOf(scope, bound, parts, prices);
    if (stands.reduce((sum, s) => sum + s.feeds, 0) > MOST_PIECES) return null;
    const { roomBps } = scope.limits;
    const priced = stands.map((stand) => pricedAt(stand, prices.room));
    const roomWorth = roomBps.reduce((sum, room, u) => sum + room * (prices.room[u] as number), 0);
    const most = priced.reduce((sum, p) => sum + p.best, roomWorth + parts.engines);
    const near = priced.map((p) => affordable(p, most - floor + EPSILON));
    return Narrowing.among(
      near,
      { roomBps, racks: racksOf(scope), makes: scope.model.makes, prices: prices.room, enginesWorth: parts.engines },
      floor,
      null,
    );
  }

  /** Among so many choices only; fewer of them lie closer to the beginnings of their cells, which makes the bound sharper. */
  private static among(
    stands: readonly Stand[],
    given: Given,
    floor: number,
    engines: EnginesSide | null,
    table = tableOf(stands, given.roomBps),
  ): Narrowing {
    const enginesWorth = engines?.best ?? given.enginesWorth;
    const lines = linesSide(stands, table, given.prices, floor - enginesWorth - EPSILON);
    // Whatever is picked for a destination, something is.
    const bounds = stands.map(({ choices }, i) => {
      let best = (lines.outs[i] as number) + (engines ? (engines.outs[i] as number) : enginesWorth);
      for (const c of choices)
        best = Math.max(best, leastOf(lines.most.get(c) ?? []) + (engines ? (engines.most.get(c) ?? NOTHING) : enginesWorth));
      return best;
    });
    const bound = Math.min(lines.best + enginesWorth, ...bounds);
    return new Narrowing(stands, { ...given, enginesWorth }, table.cellBps, bound, { lines, engines });
  }

  /** What encoders come to at most with a choice, and with a stand left out. */
  private enginesWith(choice: Choice): number {
    const { engines } = this.sides;
    return engines ? (engines.most.get(choice) ?? NOTHING) : this.enginesWorth;
  }

  private enginesWithout(i: number): number {
    return this.sides.engines ? (this.sides.engines.outs[i] as number) : this.enginesWorth;
  }

  /** What all engines are worth to those who give something up for them. */
  get enginesWorth(): number {
    return this.given.enginesWorth;
  }

  /** How many ways there are to pick something for everybody. */
  get size(): number {
    return this.stands.reduce((product, s) => product * (s.choices.length + (s.out === NOTHING ? 0 : 1)), 1);
  }

  /** The same in other room on the uplinks, nowhere more than before, for answers of at least `floor` points. */
  inRoom(roomBps: readonly number[], floor: number): Narrowing {
    return Narrowing.among(this.stands, { ...this.given, roomBps }, floor, null, tableInRoom(this.sides.lines.table, roomBps));
  }

  /** The same for an answer of at least `floor` points, bounded more sharply. */
  sharpened(floor: number): Narrowing {
    return Narrowing.among(this.within(floor), this.given, floor, null);
  }

  /**
   * Bounded more sharply still: also by what encoders can run, set by set, with what is given up for engines moved until
   * uplinks and encoders nearly agree on what each choice is worth.
   */
  agreed(floor: number): Narrowing {
    const { racks, makes } = this.given;
    const among = (stands: readonly Stand[]) => Narrowing.among(stands, this.given, floor, enginesSide(stands, racks, makes));
    let now = among(this.within(floor));
    for (let n = 0, step = 1; n < EVENINGS && now.sides.engines; n++) {
      if (now.bound < floor - EPSILON || now.size === 1) break;
      const next = among(now.evened(floor, step));
      if (next.bound >= now.bound) {
        step /= 2;
        continue;
      }
      const enough = now.bound - next.bound < WORTHWHILE * (now.bound - floor) && next.size > WORTHWHILE * now.size;
      now = next;
      if (enough) break;
    }
    return now;
  }

  /** The same choices, with what they give up for engines moved so that both sides come nearer to agreeing on each. */
  private evened(floor: number, step: number): Stand[] {
    const { lines, engines } = this.sides;
    const stands = this.within(floor);
    if (!engines) return stands;
    return stands.map((stand, i) => {
      // Half of what both sides differ by, seen from the choice on which they differ most.
      const apart = new Map(
        (this.stands[i] as Stand).choices.map((c) => [toldOf(c), (leastOf(lines.most.get(c) ?? []) - (engines.most.get(c) ?? 0)) / 2]),
      );
      const out = ((lines.outs[i] as number) - (engines.outs[i] as number)) / 2;
      const most = Math.max(...[...apart.values(), out].filter(Number.isFinite));
      const moved = (gives: number, own: number) => (Number.isFinite(own) ? gives + step * (own - most) : gives);
      const choices = stand.choices.map((c) => {
        const gives = moved(c.gives.least, apart.get(toldOf(c)) as number);
        return { ...c, gives: { least: gives, most: gives } };
      });
      return { ...stand, choices, outGives: moved(stand.outGives, out) };
    });
  }

  /** Only what may belong to an answer of at least `floor` points. */
  within(floor: number): Stand[] {
    const { most, outs } = this.sides.lines;
    const left = this.stands.map((stand, i): Stand => {
      const choices = stand.choices.flatMap((choice): Choice[] => {
        const least = floor - EPSILON - this.enginesWith(choice);
        const on = most.get(choice) ?? [];
        if (leastOf(on) < least) return [];
        return [on.every((list) => list.every((value) => value >= least)) ? choice : { ...choice, loads: kept(choice.loads, on, least) }];
      });
      const out = (outs[i] as number) + this.enginesWithout(i) >= floor - EPSILON ? stand.out : NOTHING;
      return { ...stand, choices, out };
    });
    return passedOn(left);
  }

  /** Parts that hold every answer of at least `floor` points between them; null: there is nothing to tell apart by. */
  split(floor: number): Narrowing[] | null {
    const parts = partsOf(this.within(floor));
    return parts?.map((stands) => Narrowing.among(passedOn(stands), this.given, floor, null)) ?? null;
  }
}

/** Loads of a choice's feeds where an answer with them there may still come to so much. */
const kept = (loads: Choice["loads"], most: readonly Float64Array[], least: number): Float64Array[] =>
  loads.map((list, n) => list.map((load, u) => ((most[n]?.[u] as number) >= least ? load : Number.POSITIVE_INFINITY)));

type LinesSide = ReturnType<typeof linesSide>;

/** A choice by what it tells; its copies in narrower stands have the same. */
const toldOf = (c: Choice): string => `${c.terms.id} ${c.bps} ${c.engines} ${c.lumaPerS}`;

/** What an answer with a choice comes to at most: each of its feeds may be where it is best. */
function leastOf(most: readonly Float64Array[]): number {
  let least = Number.POSITIVE_INFINITY;
  const none = NOTHING;
  for (const list of most) {
    let best = none;
    for (let u = 0; u < list.length; u++) if ((list[u] as number) > best) best = list[u] as number;
    if (best < least) least = best;
  }
  return least;
}

/** Stands as feeds, and what every set of them comes to on the uplinks. */
interface Table {
  /** Those with the most choices first: their cells are gone through last. */
  byChoices: readonly Stand[];
  pieces: readonly Piece[];
  subsets: Subsets;
  cellBps: number;
}

function tableOf(stands: readonly Stand[], roomBps: readonly number[]): Table {
  const byChoices = [...stands].sort((a, b) => b.choices.length - a.choices.length);
  const cellBps = cellOf(byChoices, roomBps);
  const pieces = piecesOf(byChoices, roomBps, cellBps);
  return { byChoices, pieces, subsets: new Subsets(pieces, roomBps, cellBps), cellBps };
}

const tableInRoom = (table: Table, roomBps: readonly number[]): Table => ({ ...table, subsets: table.subsets.inRoom(roomBps) });

/** What choices come to on the uplinks, after what they give up for an engine: by choice, feed and uplink, and left out. */
function linesSide(stands: readonly Stand[], table: Table, prices: readonly number[], floor: number) {
  const { byChoices, pieces, subsets } = table;
  const { best, out, on } = subsets.marginals(prices, floor);
  const most = new Map<Choice, Float64Array[]>();
  const outs = new Map<Stand, number>();
  let at = 0;
  for (const stand of byChoices) {
    const { choices, feeds } = stand;
    choices.forEach((choice, i) => {
      const value = (choice.points - choice.gives.least) / feeds;
      most.set(
        choice,
        choice.loads.map((list, n) => {
          const own = new Float64Array(list.length).fill(NOTHING);
          const { on: wares } = pieces[at + n] as Piece;
          for (let u = 0; u < own.length; u++) {
            const ware = wares[u];
            const k = ware ? (ware.of[i] as number) : -1;
            // Another choice in the same cell may be worth more.
            if (ware && k >= 0) own[u] = (on[at + n]?.[u]?.[k] as number) - ((ware.values[k] as number) - value);
          }
          return own;
        }),
      );
    });
    outs.set(stand, Math.min(...out.slice(at, at + feeds)));
    at += feeds;
  }
  return { table, best, most, outs: stands.map((s) => outs.get(s) as number) };
}

/** A stand with what its feeds cost at prices of uplinks, each by itself. */
interface Priced {
  stand: Stand;
  /** By choice, feed and uplink. */
  costs: readonly number[][][];
  /** What each choice is worth after its costs. */
  values: readonly number[];
  best: number;
}

function pricedAt(stand: Stand, room: readonly number[]): Priced {
  const cost = (load: number, u: number) => (Number.isFinite(load) ? (room[u] as number) * load : load);
  const costs = stand.choices.map(({ loads }) => loads.map((list) => Array.from(list, cost)));
  const values = stand.choices.map(({ points, gives }, i) =>
    (costs[i] as number[][]).reduce((sum, own) => sum - Math.min(...own), points - gives.least),
  );
  return { stand, costs, values, best: Math.max(stand.out, ...values) };
}

/** A stand without what loses more than `most` against its best. */
function affordable({ stand, costs, values, best }: Priced, most: number): Stand {
  const choices = stand.choices.flatMap((choice, i): Choice[] => {
    const left = most - (best - (values[i] as number));
    if (left < 0) return [];
    const loads = choice.loads.map((list, n) => {
      const own = costs[i]?.[n] as number[];
      const cheapest = Math.min(...own);
      return list.map((load, u) => ((own[u] as number) - cheapest <= left ? load : Number.POSITIVE_INFINITY));
    });
    return [{ ...choice, loads }];
  });
  return { ...stand, choices, out: best - stand.out <= most ? stand.out : NOTHING };
}
