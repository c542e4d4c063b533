import { compile } from "../fit/plan/model";
import type { Narrowing } from "../fit/plan/narrow";
import { search } from "../fit/plan/optimum";
import { type Found, Search } from "../fit/plan/search";
import { limitsOf } from "../fit/plan/solve";
import { type Feature, features, randomProblem } from "./problems";

const shape = { destinations: 4, uplinks: 2, encoders: 2, engines: 2, stepBps: 300_000, tightness: 0.8, sizes: 2, fast: true };
const SEEDS = Array.from({ length: 30 }, (_, i) => i + 1);

/** A problem's best answer, and what is left of all choices within 3 % of it. */
function opened(seed: number, own: readonly Feature[]) {
  const model = compile(randomProblem(seed, { ...shape, features: own }));
  const limits = limitsOf(model.problem);
  const { best, proved } = search(model, limits);
  if (!best || !proved) return null;
  const { points } = best.allocation;
  const narrowing = new Search(model, limits).narrowing(points * 0.97);
  return narrowing && { model, limits, best, points, narrowing };
}

/** Whether stands leave everything that an answer tells its destinations. */
function holds(narrowing: Narrowing, floor: number, found: Found): boolean {
  return narrowing.within(floor).every(({ taker, choices, out }) => {
    const g = found.groups.findIndex((group) => group.members.some((m) => m.taker.index === taker.index && m.ways !== null));
    const group = found.groups[g];
    // Left out, or passed on by a relay.
    if (!group) return out !== Number.NEGATIVE_INFINITY;
    const terms = group.members.find((m) => m.taker.index === taker.index)?.terms;
    const bps = group.make.bps[found.allocation.at[g] as number];
    return choices.some((c) => c.terms.id === terms?.id && c.bps === bps);
  });
}

describe.each([
  ["plain", []],
  ["who may be left out", ["may"]],
  ["backups", ["may", "backup"]],
  ["backups from another encoder", ["backup", "other-encoder"]],
  ["relays", ["may", "relay"]],
  ["everything", features],
] as [string, readonly Feature[]][])("narrowing: %s", (_name, own) => {
  const cases = SEEDS.flatMap((seed) => opened(seed, own) ?? []);

  test("there is something to test", () => expect(cases.length).toBeGreaterThan(15));

  test("no bound falls below the best answer, and nothing of that answer is lost", () => {
    for (const { best, points, narrowing } of cases)
      for (const one of [narrowing, narrowing.sharpened(points), narrowing.sharpened(points * 0.99), narrowing.agreed(points)]) {
        expect(one.bound).toBeGreaterThanOrEqual(points - 0.01);
        expect(holds(one, points, best)).toBe(true);
      }
  });

  test("sharper is never looser, and leaves no more", () => {
    for (const { points, narrowing } of cases) {
      const sharp = narrowing.sharpened(points);
      expect(sharp.bound).toBeLessThanOrEqual(narrowing.bound + 0.01);
      expect(sharp.size).toBeLessThanOrEqual(narrowing.size);
    }
  });

  test("taken apart, one part still has the best answer", () => {
    for (const { best, points, narrowing } of cases) {
      const parts = narrowing.split(points);
      if (!parts) continue;
      expect(parts.some((part) => part.bound >= points - 0.01 && holds(part, points, best))).toBe(true);
      for (const part of parts) expect(part.bound).toBeLessThanOrEqual(narrowing.bound + 0.01);
    }
  });

  test("in less room the same narrowing still has the best answer of that room", () => {
    let tested = 0;
    for (const { model, limits, points, narrowing } of cases)
      for (const share of [0.99, 0.95]) {
        const roomBps = limits.roomBps.map((room, u) => (u === 0 ? Math.floor(room * share) : room));
        const { best } = search(model, { ...limits, roomBps });
        // It was only made for answers of nearly as many points.
        if (!best || best.allocation.points < points * 0.97) continue;
        tested++;
        const here = narrowing.inRoom(roomBps, points * 0.97);
        expect(here.bound).toBeGreaterThanOrEqual(best.allocation.points - 0.01);
        expect(holds(here, best.allocation.points, best)).toBe(true);
      }
    expect(tested).toBeGreaterThan(5);
  });
});
