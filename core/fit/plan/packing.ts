import type { Choice } from "./choices";
import type { Makes } from "./makes";
import type { Model, Taker } from "./model";
import type { Limits } from "./scope";

/** A destination with what it is told, to be run on an encoder. */
export interface Told {
  taker: Taker;
  choice: Choice;
}

export interface Racks {
  engines: readonly number[];
  lumaPerS: readonly number[];
  feeds: readonly number[];
}

/** What encoders have within a search's limits. */
export const racksOf = ({ model, limits }: { model: Model; limits: Limits }): Racks => ({
  engines: limits.engines,
  lumaPerS: model.problem.encoders.map((e) => e.maxLumaPerS),
  feeds: model.problem.encoders.map((e) => e.maxFeeds),
});

/** A packing is looked for in so many steps; beyond them it counts as possible. */
const MOST_STEPS = 400;

/** What tells one engine's settings from another's. */
export const settingsKey = ({ taker, choice }: Told): string =>
  taker.ladder ? `${choice.terms.id} ${choice.bps} ladder` : `${choice.terms.picture.index} ${choice.bps}`;

/** Whether encoders can run all of these: those told the same share an engine where their rule sheets agree. */
export function packs(told: readonly Told[], racks: Racks, makes: Makes): boolean {
  const items = told
    .map((t) => ({ ...t, key: settingsKey(t) }))
    .sort((a, b) => b.choice.lumaPerS - a.choice.lumaPerS || (a.key < b.key ? -1 : 1));
  const engines = [...racks.engines];
  const luma = [...racks.lumaPerS];
  const feeds = [...racks.feeds];
  const running = racks.engines.map(() => new Map<string, Told[]>());
  let steps = 0;
  // With one of them at least: whoever shares with none of those that run needs an engine more, however the rest sort out.
  const shares = (e: number, mates: readonly Told[], item: Told): boolean =>
    mates.some((mate) => {
      const terms = [mate.choice.terms, item.choice.terms].sort((a, b) => a.id - b.id);
      return makes.of(terms, [e]).some((make) => make.bps.includes(item.choice.bps));
    });
  const place = (n: number): boolean => {
    const item = items[n];
    if (!item || ++steps > MOST_STEPS) return true;
    const { choice, key, taker } = item;
    const sent = taker.given.backup ? 2 : 1;
    for (const encoders of choice.encoders) {
      const each = (encoders.length === 1 ? sent : 1) * choice.engines;
      const fresh = encoders.filter((e) => {
        const mates = running[e]?.get(key);
        return !mates || !shares(e, mates, item);
      });
      const fits =
        encoders.every((e) => (feeds[e] as number) >= each) &&
        fresh.every((e) => (engines[e] as number) >= choice.engines && (luma[e] as number) >= choice.lumaPerS);
      if (!fits) continue;
      const before = encoders.map((e) => running[e]?.get(key));
      const change = (sign: number) => {
        for (const e of encoders) feeds[e] = (feeds[e] as number) - sign * each;
        for (const e of fresh) {
          engines[e] = (engines[e] as number) - sign * choice.engines;
          luma[e] = (luma[e] as number) - sign * choice.lumaPerS;
        }
      };
      change(1);
      encoders.forEach((e, i) => {
        running[e]?.set(key, [...(before[i] ?? []), item]);
      });
      if (place(n + 1)) return true;
      change(-1);
      encoders.forEach((e, i) => {
        const old = before[i];
        if (old) running[e]?.set(key, old);
        else running[e]?.delete(key);
      });
    }
    return false;
  };
  return place(0);
}
