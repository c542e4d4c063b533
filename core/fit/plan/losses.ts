/** Sets of feeds, and what each loses against the price of everything. */
export interface Losses {
  sets: number[];
  losses: number[];
}

export function add({ sets, losses }: Losses, set: number, loss: number): void {
  sets.push(set);
  losses.push(loss);
}

/** Shares sets of feeds out between lists so that the least is lost. */
export class Shares {
  private readonly scratch: Float64Array;

  constructor(full: number) {
    this.scratch = new Float64Array(full + 1).fill(Number.POSITIVE_INFINITY);
  }

  /** The least loss of any partition of all of `active` over the lists; Infinity: more than `gap`. */
  leastLoss(lists: readonly Losses[], active: number, gap: number): number {
    const half = lists.length >> 1;
    const fold = (some: readonly Losses[]) => some.reduce((sum, own) => this.together(sum, own, gap));
    const last = fold(lists.slice(half));
    if (half === 0) return this.lookedUp(last, [active], [0], 0);
    const first = fold(lists.slice(0, half));
    return this.lookedUp(last, first.sets, first.losses, active);
  }

  /** The least of losses with that of the rest of `active` in another list. */
  private lookedUp(list: Losses, sets: readonly number[], losses: readonly number[], active: number): number {
    const { scratch } = this;
    list.sets.forEach((set, i) => {
      scratch[set] = list.losses[i] as number;
    });
    let least = Number.POSITIVE_INFINITY;
    for (let i = 0; i < sets.length; i++) {
      const set = sets[i] as number;
      const sum = (losses[i] as number) + (scratch[active === 0 ? set : active & ~set] as number);
      if (sum < least) least = sum;
    }
    for (const set of list.sets) scratch[set] = Number.POSITIVE_INFINITY;
    return least;
  }

  private together(a: Losses, b: Losses, gap: number): Losses {
    const { scratch } = this;
    const sets: number[] = [];
    for (let i = 0; i < a.sets.length; i++) {
      const left = gap - (a.losses[i] as number);
      const own = a.sets[i] as number;
      for (let j = 0; j < b.sets.length; j++) {
        const loss = b.losses[j] as number;
        if (loss > left || own & (b.sets[j] as number)) continue;
        const both = own | (b.sets[j] as number);
        const sum = (a.losses[i] as number) + loss;
        const known = scratch[both] as number;
        if (known === Number.POSITIVE_INFINITY) sets.push(both);
        if (sum < known) scratch[both] = sum;
      }
    }
    const losses = sets.map((set) => scratch[set] as number);
    for (const set of sets) scratch[set] = Number.POSITIVE_INFINITY;
    return { sets, losses };
  }
}
