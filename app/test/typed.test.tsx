import { encoder } from "@ukaza/contract/encoder";
import { ruleSheet } from "@ukaza/contract/ruleSheet";
import fc from "fast-check";
import { shippedKit, shippedSheets } from "../../core/test/kit";
import { fieldFor, typedNumber, typedResolver } from "../data/typedForm";
import { encoderFaults, fromTypedEncoder, plainEncoder, type TypedEncoder, toTypedEncoder, typedEncoder } from "../stages/kit/encoderTyped";
import { tonight, typedSpan } from "../stages/kit/freeSpan";
import { fromTypedSheet, sheetFaults, type TypedSheet, toTypedSheet, typedSheet } from "../stages/platforms/sheetTyped";

describe("a sheet goes through the form and comes back the same", () => {
  test.each(Object.entries(shippedSheets))("%s", (_id, sheet) => {
    const typed = toTypedSheet(sheet);
    expect(sheetFaults(typed)).toEqual([]);
    expect(ruleSheet.parse(fromTypedSheet(typed, sheet.platform.id, sheet.revision))).toEqual(sheet);
  });
});

describe("an encoder goes through the form and comes back the same", () => {
  test.each([...Object.entries(shippedKit), ["plain", plainEncoder] as const])("%s", (_id, kit) => {
    expect(encoderFaults(toTypedEncoder(kit), kit)).toEqual([]);
    expect(encoder.parse(fromTypedEncoder(toTypedEncoder(kit), kit))).toEqual(kit);
  });
});

describe("what is wrong stands at its field, in words", () => {
  const sheet = toTypedSheet(shippedSheets["oriel-public"]);
  const [row] = sheet.modes as [TypedSheet["modes"][number]];
  const fault = (change: Partial<TypedSheet>) => sheetFaults({ ...sheet, ...change }).map((f) => [f.path.join("."), f.message]);
  test.each<[Partial<TypedSheet>, string, RegExp]>([
    [{ platform: { name: " " } }, "platform.name", /needed|name/],
    [{ source: { ...sheet.source, checkedOn: "1 June" } }, "source.checkedOn", /./],
    [{ modes: [{ ...row, size: "big" }] }, "modes.0.size", /"big" is not a size; write 1920×1080/],
    [{ modes: [row, { ...row }] }, "modes.1.size", /Row 1 holds a frame rate of this size and codec already/],
    [{ modes: [] }, "root", /at least one mode/],
    [{ rateControls: [] }, "rateControls", /Choose at least one/],
    [{ keyframe: { ...sheet.keyframe, maxS: "ten" } }, "keyframe.maxS", /Give a number/],
    [{ keyframe: { ...sheet.keyframe, recommendedS: "9" } }, "keyframe.recommendedS", /outside minimum and maximum/],
    [{ bFramesMax: "17" }, "bFramesMax", /At most 16/],
    [{ audio: { ...sheet.audio, maxBps: "99999999" } }, "audio.maxBps", /At most 10000000/],
    [{ regions: "north" }, "regions.0.id", /north: North Reach/],
    [{ latencyModes: "quick" }, "latencyModes.0.name", /normal 25/],
    [{ lifecycle: { ...sheet.lifecycle, receive: { typicalS: "9", longestS: "3" } } }, "lifecycle.receive.typicalS", /usual wait is above/],
  ])("sheet %#", (change, path, message) => {
    const found = fault(change);
    expect(found.map(([p]) => p)).toContain(path);
    expect(found.find(([p]) => p === path)?.[1]).toMatch(message);
    expect(typedSheet({ ...sheet, ...change }, "x", 1)).toBeNull();
  });

  const kit = toTypedEncoder(shippedKit["rack-two-way"]);
  test.each<[Partial<TypedEncoder>, string, RegExp]>([
    [{ name: "" }, "name", /needed|name/],
    [{ engines: "0" }, "engines", /At least 1/],
    [{ sizes: "huge" }, "sizes.0.width", /Write sizes as 1920×1080/],
    [{ videoBps: { ...kit.videoBps, step: "0.5" } }, "videoBps.step", /At least 1\./],
    [{ videoBps: { ...kit.videoBps, min: "90000" } }, "videoBps.min", /minimum is above the maximum/],
    [{ protocols: [] }, "protocols", /Choose at least one/],
    [{ inputs: [{ connector: "SDI", signals: "1920×1080 at 25" }] }, "inputs.0.signals.0.width", /1920×1080 p 25 50/],
    [{ presets: "Chapel" }, "presets.0.name", /Chapel: 1280×720 25 2500/],
    [{ network: "Left socket" }, "network.0.name", /Modem 1: modem/],
    [{ reach: { ...kit.reach, driver: "http", address: "192.168.8.20" } }, "reach.address", /http:\/\/192/],
  ])("encoder %#", (change, path, message) => {
    const found = encoderFaults({ ...kit, ...change }, shippedKit["rack-two-way"]).map((f) => [f.path.join("."), f.message]);
    expect(found.find(([p]) => p === path)?.[1] ?? `no ${path}: ${JSON.stringify(found)}`).toMatch(message);
    expect(typedEncoder({ ...kit, ...change }, shippedKit["rack-two-way"])).toBeNull();
  });

  test("a fault deep in a list that is one field stands at that field", () => {
    expect(fieldFor({ regions: "text", audio: { minBps: "1" }, freezes: { preview: ["size"] } }, ["regions", 0, "id"])).toBe("regions");
    expect(fieldFor({ freezes: { preview: ["size"] } }, ["freezes", 0, "fields"])).toBe("freezes");
    const resolve = typedResolver<{ regions: string }>(() => [
      { path: ["regions", 0, "id"], message: "first" },
      { path: ["regions", 1], message: "second" },
    ]);
    expect(resolve({ regions: "x" }, undefined, {} as never)).toMatchObject({ errors: { regions: { message: "first" } } });
  });

  test("whatever is typed never throws", () => {
    const words = fc.oneof(fc.string(), fc.constantFrom("1920x1080 p 25", "a: b; c: d", "25;;", "1e9", "-1", "×"));
    fc.assert(
      fc.property(words, words, words, (a, b, c) => {
        const s = { ...sheet, regions: a, latencyModes: b, bFramesMax: c, modes: [{ ...row, size: a, frameRates: b, maxBps: c }] };
        expect(typedSheet(s, "x", 1) === null).toBe(sheetFaults(s).length > 0);
        const k = { ...kit, sizes: a, frameRates: b, presets: c, network: a, inputs: [{ connector: "SDI" as const, signals: b }] };
        expect(typedEncoder(k, shippedKit["rack-two-way"]) === null).toBe(encoderFaults(k, shippedKit["rack-two-way"]).length > 0);
      }),
      { numRuns: 300 },
    );
  });
});

test("numbers as people write them", () => {
  expect(typedNumber("4,5", null, 1e3)).toBe(4_500);
  expect(typedNumber("128.1", null, 1e3)).toBe(128_100);
  expect(typedNumber("  ", undefined)).toBeUndefined();
  expect(typedNumber("12 Mb/s", null)).toBeNaN();
});

describe("hours asked about", () => {
  const zone = "Europe/London";
  test("tonight is this evening until midnight on the clock of the place, less what has gone by", () => {
    expect(tonight(Date.parse("2026-06-10T09:00:00Z"), zone)).toEqual({
      from: "2026-06-10T17:00:00.000Z",
      until: "2026-06-10T23:00:00.000Z",
    });
    expect(tonight(Date.parse("2026-06-10T20:15:00Z"), zone)).toEqual({
      from: "2026-06-10T20:15:00.000Z",
      until: "2026-06-10T23:00:00.000Z",
    });
    // The night on which the clock goes back has an hour more.
    expect(tonight(Date.parse("2026-10-25T09:00:00Z"), zone)).toEqual({
      from: "2026-10-25T18:00:00.000Z",
      until: "2026-10-26T00:00:00.000Z",
    });
  });

  test("typed hours", () => {
    expect(typedSpan("2026-06-10 18:00", "2026-06-10 23:30", zone)).toEqual({
      from: "2026-06-10T17:00:00.000Z",
      until: "2026-06-10T22:30:00.000Z",
    });
    expect(typedSpan("tonight", "late", zone)).toEqual({ wrong: "Write both as 2026-06-10 18:00." });
    expect(typedSpan("2026-06-10 23:00", "2026-06-10 18:00", zone)).toEqual({ wrong: "The end lies before the beginning." });
  });
});
