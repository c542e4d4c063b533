import { bestEngines, type Offer } from "./rack";

/** What encoders have left. */
interface Left {
  enginesLeft: readonly number[];
  lumaLeft: readonly number[];
  feedsLeft: readonly number[];
}

/** What the engines left on an encoder are worth at the prices last asked for, and which they are. */
export interface Rack {
  kind: number;
  offers: readonly Offer[];
  worth: number;
  picks: readonly Offer[];
  /** What fewer engines or less luma would be worth, as it was asked. */
  fewer: Map<string, number>;
}

/** New engines that an encoder can still run: each sends one feed at least. */
const enginesLeft = (n: Left, e: number): number => Math.min(n.enginesLeft[e] as number, n.feedsLeft[e] as number);

/** What destinations would pay together for engines, by kind of encoder, picture and bitrate. */
export class Offers {
  /** By kind of encoder: what is paid in each cell (picture and bitrate), and the cells that are in use. */
  private readonly shares: Map<number, { sums: Float64Array; used: number[] }>;

  constructor(
    /** By encoder its kind. */
    private readonly alike: readonly number[],
    /** By picture. */
    private readonly luma: readonly number[],
    /** Cells of a picture. */
    private readonly cells: number,
  ) {
    this.shares = new Map([...new Set(alike)].map((kind) => [kind, { sums: new Float64Array(luma.length * cells), used: [] }]));
  }

  clear(): void {
    for (const { sums, used } of this.shares.values()) {
      for (const cell of used) sums[cell] = 0;
      used.length = 0;
    }
  }

  add(kind: number, cell: number, gain: number): void {
    const { sums, used } = this.shares.get(kind) as { sums: Float64Array; used: number[] };
    if (sums[cell] === 0) used.push(cell);
    sums[cell] = (sums[cell] as number) + gain;
  }

  /** The engines left on each encoder go to what is worth most. */
  racks(n: Left): Rack[] {
    const offers = new Map<number, Offer[]>();
    const same = new Map<string, Rack>();
    return n.enginesLeft.map((_, e) => {
      const kind = this.alike[e] as number;
      const count = enginesLeft(n, e);
      const key = `${kind} ${count} ${n.lumaLeft[e]}`;
      const known = same.get(key);
      if (known) return known;
      let own = offers.get(kind);
      if (!own) {
        const { sums, used } = this.shares.get(kind) as { sums: Float64Array; used: number[] };
        own = used.map((cell) => ({ worth: sums[cell] as number, lumaPerS: this.luma[Math.floor(cell / this.cells)] as number, cell }));
        offers.set(kind, own);
      }
      const rack = { kind, offers: own, ...bestEngines(own, count, n.lumaLeft[e] as number), fewer: new Map<string, number>() };
      same.set(key, rack);
      return rack;
    });
  }

  /** What so many engines with so much luma of an encoder would be worth less than those it has left. */
  lost(n: Left, rack: Rack | undefined, e: number, engines: number, lumaPerS: number): number {
    if (!rack) return 0;
    const count = enginesLeft(n, e) - engines;
    const left = (n.lumaLeft[e] as number) - lumaPerS;
    const key = `${count} ${left}`;
    let worth = rack.fewer.get(key);
    if (worth === undefined) {
      worth = bestEngines(rack.offers, count, left).worth;
      rack.fewer.set(key, worth);
    }
    return rack.worth - worth;
  }
}
