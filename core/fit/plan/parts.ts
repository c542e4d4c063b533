import type { Choice, Stand } from "./choices";
import { NOTHING } from "./slack";

/** Choices by picture. */
function byPicture(choices: readonly Choice[]): Choice[][] {
  const groups = new Map<number, Choice[]>();
  for (const choice of choices) {
    const { index } = choice.terms.picture;
    const own = groups.get(index);
    if (own) own.push(choice);
    else groups.set(index, [choice]);
  }
  return [...groups.values()];
}

/** The higher bitrates and the lower ones; one group where there is but one. */
function halves(choices: readonly Choice[]): Choice[][] {
  const rates = [...new Set(choices.map((c) => c.bps))].sort((a, b) => a - b);
  const middle = rates[rates.length >> 1] as number;
  return rates.length < 2 ? [[...choices]] : [choices.filter((c) => c.bps >= middle), choices.filter((c) => c.bps < middle)];
}

/**
 * Stands taken apart by what one of them is told: a relay that others are passed on by, since all they come to hangs on it,
 * else whoever has the most pictures. null: everybody has one picture at the most.
 */
export function partsOf(stands: readonly Stand[]): Stand[][] | null {
  const relay = stands.findIndex(
    (s) =>
      (s.choices.length > 1 || (s.choices.length > 0 && s.out !== NOTHING)) &&
      stands.some((t) => t.taker.relay === s.taker.index && t.out !== NOTHING),
  );
  const pictures = stands.map((s) => byPicture(s.choices));
  const most = Math.max(...pictures.map((own) => own.length));
  const at = relay >= 0 ? relay : most > 1 ? pictures.findIndex((own) => own.length === most) : -1;
  const stand = stands[at];
  if (!stand) return null;
  const own = pictures[at] as Choice[][];
  const groups = own.length > 1 || stand.out !== NOTHING ? own : halves(stand.choices);
  const parts = groups.map((choices): Stand => ({ ...stand, choices, out: NOTHING }));
  if (stand.out !== NOTHING) parts.push({ ...stand, choices: [] });
  return parts.map((part) => stands.map((s, i) => (i === at ? part : s)));
}
