/** An engine that might be run: what it is worth, and the luma samples a second that it takes. */
export interface Offer {
  worth: number;
  lumaPerS: number;
  cell: number;
}

/** Sets of offers are looked for in so many steps; beyond them the bound without whole engines is taken. */
const MOST_STEPS = 2_000;

/** Offers that may be among the best `count`: no more than so many others take no more luma and are worth no less. */
function worthwhile(offers: readonly Offer[], count: number, lumaPerS: number): Offer[] {
  const byLuma = offers.filter((o) => o.worth > 0 && o.lumaPerS <= lumaPerS);
  byLuma.sort((a, b) => a.lumaPerS - b.lumaPerS || b.worth - a.worth);
  /** Worths of the best so far, the least last. */
  const best: number[] = [];
  const kept: Offer[] = [];
  for (const offer of byLuma) {
    if (best.length === count && offer.worth <= (best[count - 1] as number)) continue;
    kept.push(offer);
    let at = best.length;
    while (at > 0 && (best[at - 1] as number) < offer.worth) at--;
    best.splice(at, 0, offer.worth);
    if (best.length > count) best.pop();
  }
  return kept.sort((a, b) => b.worth - a.worth);
}

/** A bound for more offers than can be gone through: luma at the price that makes it least. */
function loosely(offers: readonly Offer[], count: number, lumaPerS: number): number {
  let least = Number.POSITIVE_INFINITY;
  let [low, high] = [0, Math.max(...offers.map((o) => o.worth / o.lumaPerS))];
  for (let i = 0; i < 30; i++) {
    const price = (low + high) / 2;
    const chosen = offers
      .map((o) => ({ gain: o.worth - price * o.lumaPerS, lumaPerS: o.lumaPerS }))
      .filter((o) => o.gain > 0)
      .sort((a, b) => b.gain - a.gain)
      .slice(0, count);
    least = Math.min(least, price * lumaPerS + chosen.reduce((sum, o) => sum + o.gain, 0));
    if (chosen.reduce((sum, o) => sum + o.lumaPerS, 0) > lumaPerS) low = price;
    else high = price;
  }
  return least;
}

/** The most that `count` engines of an encoder with so much luma left can be worth, and which offers they are. */
export function bestEngines(offers: readonly Offer[], count: number, lumaPerS: number): { worth: number; picks: readonly Offer[] } {
  if (count <= 0) return { worth: 0, picks: [] };
  const useful = worthwhile(offers, count, lumaPerS);
  const chosen: Offer[] = [];
  let [best, picks, steps]: [number, Offer[], number] = [0, [], 0];
  const visit = (from: number, left: number, room: number, sum: number): void => {
    if (sum > best) [best, picks] = [sum, [...chosen]];
    let hope = sum;
    for (let i = from; i < useful.length && i < from + left; i++) hope += (useful[i] as Offer).worth;
    for (let i = from; i < useful.length && left > 0; i++) {
      if (hope <= best || ++steps > MOST_STEPS) return;
      const offer = useful[i] as Offer;
      if (offer.lumaPerS <= room) {
        chosen.push(offer);
        visit(i + 1, left - 1, room - offer.lumaPerS, sum + offer.worth);
        chosen.pop();
      }
      hope += (useful[i + left]?.worth ?? 0) - offer.worth;
    }
  };
  visit(0, count, lumaPerS, 0);
  return { worth: steps > MOST_STEPS ? Math.max(best, loosely(useful, count, lumaPerS)) : best, picks };
}
