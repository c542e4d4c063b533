import { compile } from "../fit/plan/model";
import { search } from "../fit/plan/optimum";
import { limitsOf } from "../fit/plan/solve";
import { exhaustive } from "./exhaustive";
import { type Feature, features, randomProblem, type Shape } from "./problems";

const small: Shape = { destinations: 3, uplinks: 2, encoders: 2, engines: 1, stepBps: 500_000, tightness: 0.6, sizes: 2, fast: false };

/** The search and the reference on so many problems of a shape; gives how many had an answer. */
function agree(shape: Shape, seeds: number, from = 1): number {
  let answered = 0;
  for (let seed = from; seed < from + seeds; seed++) {
    const problem = randomProblem(seed, shape);
    const expected = exhaustive(problem);
    const { best, proved } = search(compile(problem), limitsOf(problem));
    const found = best && { points: best.allocation.points, engines: best.engines, loadBps: Math.round(best.allocation.loadBps) };
    expect({ seed, found, proved }).toEqual({
      seed,
      found: expected && { ...expected, loadBps: Math.round(expected.loadBps) },
      proved: true,
    });
    if (expected) answered++;
  }
  return answered;
}

describe("the optimum is the same as by trying everything", () => {
  test.each(features)("with %s", (feature) => {
    const own: Feature[] = feature === "other-encoder" ? ["may", "backup", "other-encoder"] : ["may", feature];
    expect(agree({ ...small, features: own }, 120)).toBeGreaterThan(60);
  });
  test("with everything at once", () => {
    expect(agree({ ...small, features }, 250, 1000)).toBeGreaterThan(125);
  });
  test.each([
    ["one uplink, many engines", { uplinks: 1, encoders: 1, engines: 3 }],
    ["a wide line", { tightness: 1.6 }],
    ["a thin line", { tightness: 0.35 }],
    ["three uplinks", { uplinks: 3 }],
    ["few engines for many", { destinations: 4, uplinks: 1, encoders: 1, engines: 2, sizes: 2 }],
  ] as const)("%s", (_name, more) => {
    expect(agree({ ...small, features: ["may"], ...more }, 120, 5000)).toBeGreaterThan(60);
  });
});
