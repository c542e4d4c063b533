import type { FitProblem } from "@ukaza/contract/fit";
import fc from "fast-check";
import { fitOne } from "../fit/fitOne";
import { frozenFields, stepDownRows, stepDowns, worthFallingTo } from "../fit/stepDowns";
import { problem, shippedKit, shippedSheets } from "./kit";

const at = (p: FitProblem, uplinkId: string, usableBps: number): FitProblem => ({
  ...p,
  uplinks: p.uplinks.map((u) => (u.id === uplinkId ? { ...u, usableBps } : u)),
});

const sheets = ["oriel-public", "parishboard", "halyard-relay"] as const;
const anyProblem = fc
  .record({
    sheet: fc.constantFrom(...sheets),
    kit: fc.constantFrom("desk-encoder", "field-pack", "pocket-encoder"),
    lines: fc.array(fc.integer({ min: 400_000, max: 16_000_000 }), { minLength: 1, maxLength: 3 }),
    loss: fc.constantFrom(undefined, 0.001, 0.02),
    backup: fc.boolean(),
    content: fc.constantFrom("talk", "stage", "sport"),
    frameRate: fc.constantFrom("25", "50", "30"),
    allowMaximum: fc.boolean(),
  })
  .map(({ sheet, kit, lines, loss, backup, content, frameRate, allowMaximum }) => {
    const made = problem(lines, { content, allowMaximum, source: { width: 1920, height: 1080, frameRate, scan: "progressive" } } as never);
    return {
      ...made,
      uplinks: made.uplinks.map((u, i) => (i === 0 && loss !== undefined ? { ...u, rttMs: 40, lossRatio: loss } : u)),
      encoders: [shippedKit[kit as keyof typeof shippedKit]],
      destinations: made.destinations.map((d) => ({
        ...d,
        sheet: shippedSheets[sheet],
        backup: backup && shippedSheets[sheet].backupIngest,
      })),
    } as FitProblem;
  });

describe("step-downs", () => {
  test("agree with solving afresh at every rate", () => {
    fc.assert(
      fc.property(anyProblem, fc.double({ min: 0, max: 1, noNaN: true }), (p, share) => {
        const [sinking] = p.uplinks;
        if (!sinking) return;
        const steps = stepDowns(p, sinking.id);
        const rates = [sinking.usableBps * share, ...steps.slice(0, 6).flatMap((s) => [s.fromBps, s.fromBps - 1])];
        for (const rate of rates.filter((r) => r >= 0 && r <= sinking.usableBps)) {
          const afresh = fitOne(at(p, sinking.id, Math.floor(rate)));
          const step = steps.find((s) => s.fromBps <= Math.floor(rate));
          if (afresh.kind === "none") expect(step).toBeUndefined();
          else {
            expect(step?.q).toBeCloseTo(afresh.best.score.q, 9);
            const { width, height, videoBps } = afresh.best.settings;
            expect(step?.settings).toMatchObject({ width, height, videoBps });
          }
        }
      }),
      { numRuns: 60 },
    );
  });

  test("the score only falls, and each row says what changes", () => {
    const steps = stepDowns(problem([12_000_000]), "line-1");
    for (const [i, step] of steps.entries()) if (i > 0) expect(step.q).toBeLessThan(steps[i - 1]?.q ?? 0);
    const rows = stepDownRows(steps);
    expect(rows.length).toBeGreaterThan(3);
    expect(rows[0]?.changes).toEqual([]);
    expect(rows.slice(1).every((row) => row.changes.length > 0)).toBe(true);
    expect(rows.at(-1)?.bottom).toEqual(steps.at(-1));
    const worth = worthFallingTo(rows);
    expect(worth[0]).toEqual(rows[0]);
    for (const row of worth.slice(1))
      expect((rows[rows.indexOf(row) - 1]?.bottom.fromBps ?? 0) - row.bottom.fromBps).toBeGreaterThanOrEqual(50_000);
  });

  test("once public only what the sheet leaves free may move", () => {
    const oriel = shippedSheets["oriel-public"];
    const fields = frozenFields(oriel);
    expect(fields).toEqual(expect.arrayContaining(["protocol", "width", "height", "frameRate"]));
    const p = problem([12_000_000]);
    const now = fitOne(p);
    if (now.kind !== "fit") throw new Error("no fit");
    const keep = Object.fromEntries(fields.map((field) => [field, now.best.settings[field]]));
    const steps = stepDowns(p, "line-1", keep);
    expect(steps[0]?.settings).toEqual(now.best.settings);
    for (const step of steps) for (const field of fields) expect(step.settings[field]).toBe(now.best.settings[field]);
    // Free to choose, the fit goes lower than what is frozen can.
    expect(stepDowns(p, "line-1").at(-1)?.fromBps).toBeLessThan(steps.at(-1)?.fromBps ?? 0);
  });

  test("an uplink that no feed needs can sink to nothing", () => {
    const steps = stepDowns(problem([12_000_000, 12_000_000]), "line-2");
    expect(steps[0]?.fromBps).toBe(0);
    expect(steps).toHaveLength(1);
    expect(() => stepDowns(problem([1]), "line-9")).toThrow(RangeError);
  });
});
