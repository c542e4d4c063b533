import { encoder } from "@ukaza/contract/encoder";
import { event } from "@ukaza/contract/event";
import { importFile, platformFile } from "@ukaza/contract/library";
import { faultsOf, Refusal, readAs } from "@ukaza/contract/problem";
import { ruleSheet } from "@ukaza/contract/ruleSheet";
import { settings as settingsSchema } from "@ukaza/contract/settings";
import { frameRate, id, instant, timeZone } from "@ukaza/contract/units";
import fc from "fast-check";
import { desk, oriel, settings } from "./kit";

/** The places at which a document is refused. */
const places = (
  schema: { safeParse: (v: unknown) => { success: boolean; error?: Parameters<typeof faultsOf>[0] } },
  value: unknown,
): string[] => {
  const parsed = schema.safeParse(value);
  return parsed.error ? faultsOf(parsed.error).map((f) => f.at) : [];
};

describe("units", () => {
  test.each([
    ["25", true],
    ["30000/1001", true],
    ["0", false],
    ["25.0", false],
    ["25/0", false],
    ["-25", false],
    ["", false],
  ])("the frame rate %j: %s", (text, ok) => {
    expect(frameRate.safeParse(text).success).toBe(ok);
  });
  test.each([
    ["harbour-hall", true],
    ["a", true],
    ["-a", false],
    ["A", false],
    ["a b", false],
    ["../x", false],
    ["__proto__", false],
    ["x".repeat(81), false],
  ])("the id %j: %s", (text, ok) => {
    expect(id.safeParse(text).success).toBe(ok);
  });
  test.each([
    ["2026-06-10T19:30:00+01:00", true],
    ["2026-06-10T19:30:00Z", true],
    ["2026-06-10 19:30", false],
    ["2026-02-30T10:00:00Z", false],
  ])("the instant %j: %s", (text, ok) => {
    expect(instant.safeParse(text).success).toBe(ok);
  });
  test("a time zone is one that this machine knows", () => {
    expect(timeZone.safeParse("Europe/London").success).toBe(true);
    expect(timeZone.safeParse("Moon/Base").success).toBe(false);
  });
});

describe("rule sheets", () => {
  const mode = oriel.modes[0];
  test("the shipped sheet goes through JSON and back unchanged", () => {
    expect(ruleSheet.parse(JSON.parse(JSON.stringify(oriel)))).toEqual(oriel);
  });

  test.each<[string, unknown, string]>([
    ["a minimum above the maximum", { ...oriel, modes: [{ ...mode, minBps: 20e6 }] }, "modes.0.minBps"],
    ["a recommended bitrate outside", { ...oriel, modes: [{ ...mode, recommendedBps: 1 }] }, "modes.0.recommendedBps"],
    ["no modes", { ...oriel, modes: [] }, "modes"],
    ["a codec nobody knows", { ...oriel, modes: [{ ...mode, codec: "vp8" }] }, "modes.0.codec"],
    ["a level that is none", { ...oriel, modes: [{ ...mode, maxLevel: "high" }] }, "modes.0.maxLevel"],
    ["a keyframe range upside down", { ...oriel, keyframe: { minS: 4, recommendedS: 2, maxS: 1 } }, "keyframe.recommendedS"],
    [
      "a usual wait above the longest",
      { ...oriel, lifecycle: { ...oriel.lifecycle, receive: { typicalS: 9, longestS: 3 } } },
      "lifecycle.receive.typicalS",
    ],
    ["another version", { ...oriel, version: 2 }, "version"],
    ["a field that is not there", { ...oriel, hello: 1 }, "(whole)"],
    ["a port out of range", { ...oriel, protocols: [{ protocol: "rtmp", defaultPort: 70_000 }] }, "protocols.0.defaultPort"],
    ["a date that is none", { ...oriel, source: { ...oriel.source, checkedOn: "June" } }, "source.checkedOn"],
  ])("%s is refused at its place", (_name, sheet, place) => {
    expect(places(ruleSheet, sheet)).toContain(place);
  });
});

describe("encoders, settings and events", () => {
  test("each is refused at its place", () => {
    expect(places(encoder, { ...desk, videoBps: { min: 9e6, max: 1e6, step: 1e5 } })).toContain("videoBps.min");
    expect(places(encoder, { ...desk, engines: 0 })).toContain("engines");
    expect(places(settingsSchema, { ...settings, width: 0, videoBps: 1.5 })).toEqual(["width", "videoBps"]);
    const show = { start: "2026-06-10T19:30:00Z", end: "2026-06-10T19:00:00Z" };
    expect(places(event, { format: "ukaza-event", version: 1, id: "e", show })).toEqual(
      expect.arrayContaining(["name", "venueId", "show.end", "destinations"]),
    );
  });

  test("a failover policy is filled with its defaults", () => {
    const made = event.parse({
      format: "ukaza-event",
      version: 1,
      id: "e",
      name: "E",
      venueId: "v",
      timeZone: "UTC",
      show: { start: "2026-06-10T19:00:00Z", end: "2026-06-10T20:00:00Z" },
      source: { width: 1920, height: 1080, frameRate: "25", scan: "progressive" },
      content: "talk",
      encoderIds: ["k"],
      destinations: [{ id: "d", platformId: "p", title: "T", access: "private" }],
    });
    expect(made.failover).toEqual({ auto: true, returnAuto: false, brokenForS: 5, steadyForS: 120, maxSwitches: 3, withinS: 600 });
    expect(made.destinations[0]).toMatchObject({ weight: 3, must: true, backup: false });
  });
});

describe("whatever comes in", () => {
  const good = { format: "ukaza-platform", version: 1, reach: { driver: "standin", name: "oriel-public" }, sheet: oriel };

  test("is refused with places, never with a crash", () => {
    fc.assert(
      fc.property(fc.anything({ withNullPrototype: true, maxDepth: 5 }), (value) => {
        const parsed = importFile.safeParse(value);
        expect(parsed.success).toBe(false);
        if (parsed.error) expect(faultsOf(parsed.error).every((f) => f.at.length > 0 && f.message.length > 0)).toBe(true);
      }),
      { numRuns: 400 },
    );
  });

  test("one damaged value in a good file is found, wherever it stands", () => {
    const paths: (string | number)[][] = [];
    const walk = (value: unknown, path: (string | number)[]) => {
      if (value !== null && typeof value === "object")
        for (const [key, inner] of Object.entries(value)) walk(inner, [...path, Array.isArray(value) ? Number(key) : key]);
      else paths.push(path);
    };
    walk(good, []);
    expect(paths.length).toBeGreaterThan(80);
    for (const path of paths) {
      const copy: unknown = structuredClone(good);
      const inner = path.slice(0, -1).reduce<unknown>((at, key) => (at as Record<string | number, unknown>)[key], copy);
      (inner as Record<string | number, unknown>)[path.at(-1) ?? ""] = { wrong: true };
      expect(places(platformFile, copy).some((place) => place === path.join(".") || place === path.slice(0, -1).join("."))).toBe(true);
    }
  });

  test("keys of the prototype and deep nesting change nothing", () => {
    const hostile = JSON.parse(
      `{"__proto__":{"polluted":1},"constructor":1,"format":"ukaza-encoder","deep":${"[".repeat(2_000)}${"]".repeat(2_000)}}`,
    );
    expect(importFile.safeParse(hostile).success).toBe(false);
    expect(({} as { polluted?: number }).polluted).toBeUndefined();
  });

  test("a refusal names what, where and how to mend it", () => {
    expect(readAs(settingsSchema, settings, "settings")).toEqual(settings);
    try {
      readAs(settingsSchema, { ...settings, codec: "x" }, "settings");
      throw new Error("not refused");
    } catch (error) {
      expect(error).toBeInstanceOf(Refusal);
      expect((error as Refusal).problem).toMatchObject({
        status: 422,
        detail: expect.stringMatching(/^settings: codec: /),
        faults: [{ at: "codec" }],
        mend: expect.any(String),
      });
    }
  });
});
