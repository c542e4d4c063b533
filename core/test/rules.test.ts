import { readFileSync } from "node:fs";
import { join } from "node:path";
import type { Encoder } from "@ukaza/contract/encoder";
import type { CheckInput } from "@ukaza/contract/findings";
import { platformFile } from "@ukaza/contract/library";
import type { Mode, RuleSheet } from "@ukaza/contract/ruleSheet";
import { type Settings, type Source, settings as schema } from "@ukaza/contract/settings";
import fc from "fast-check";
import { compareHeld } from "../rig/readBack";
import { seal, unseal } from "../rig/seal";
import { maskKey } from "../rig/secret";
import { checkSettings, mend, mendAll } from "../rules/check";
import { desk, oriel, settings } from "./kit";

const source = { width: 1920, height: 1080, frameRate: "50", scan: "progressive" } as const;
const base = { sheet: oriel, encoder: desk, source } as const;
const check = (part: Partial<Settings>, more: Partial<CheckInput> = {}) =>
  checkSettings({ ...base, settings: { ...settings, ...part }, ...more });
/** A sheet that differs from the demo's in some places. */
const sheet = (more: Partial<RuleSheet>): { sheet: RuleSheet } => ({ sheet: { ...oriel, ...more } });
const encoder = (more: Partial<Encoder>): { encoder: Encoder } => ({ encoder: { ...desk, ...more } });
const camera = (more: Partial<Source>) => ({ source: { ...source, ...more } });
const mode = oriel.modes[1] as Mode;

describe("findings, worked by hand", () => {
  test("good settings have none", () => {
    expect(check({})).toEqual([]);
  });

  type Case = [
    name: string,
    part: Partial<Settings>,
    code: string,
    level: string,
    patch: Partial<Settings> | null,
    more?: Partial<CheckInput>,
  ];
  const cases: Case[] = [
    ["audio over the maximum", { audioBps: 320_000 }, "audio-over-max", "blocks", { audioBps: 256_000 }],
    ["audio under the minimum", { audioBps: 32_000 }, "audio-under-min", "blocks", { audioBps: 64_000 }],
    [
      "audio over the encoder's, which is under the sheet's",
      { audioBps: 256_000 },
      "encoder-audio",
      "blocks",
      { audioBps: 160_000 },
      encoder({ audioMaxBps: 160_000 }),
    ],
    [
      "audio that the two sides have no rate for",
      { audioBps: 32_000 },
      "audio-under-min",
      "blocks",
      null,
      encoder({ audioMaxBps: 48_000 }),
    ],
    ["a sample rate not taken: the nearest", { audioHz: 32_000 }, "sample-rate-not-taken", "blocks", { audioHz: 44_100 }],
    ["six channels", { audioChannels: 6 }, "channels-over-max", "blocks", { audioChannels: 2 }],
    ["video over the maximum", { videoBps: 9_500_000 }, "video-over-max", "blocks", { videoBps: 9_000_000 }],
    [
      "video over a maximum between the encoder's steps",
      { videoBps: 9_500_000 },
      "video-over-max",
      "blocks",
      { videoBps: 8_800_000 },
      encoder({ videoBps: { min: 300_000, max: 20_000_000, step: 400_000 } }),
    ],
    ["video under the minimum", { videoBps: 2_000_000 }, "video-under-min", "blocks", { videoBps: 3_000_000 }],
    ["video over the recommended", { videoBps: 6_500_000 }, "video-over-recommended", "notes", { videoBps: 5_800_000 }],
    ["a size not taken", { width: 2560, height: 1440 }, "size-not-taken", "blocks", { width: 1920, height: 1080 }],
    ["a size with odd sides", { width: 1921, height: 1081 }, "size-not-multiple", "blocks", { width: 1920, height: 1080 }],
    [
      "a size that is no multiple of 16, where the encoder needs one",
      {},
      "size-not-multiple",
      "blocks",
      { width: 1280, height: 720, videoBps: 4_600_000 },
      encoder({ sizeMultiple: 16 }),
    ],
    ["a rate not taken: the nearest that does not judder", { frameRate: "48" }, "frame-rate-not-taken", "blocks", { frameRate: "50" }],
    ["a codec not taken", { codec: "h265" }, "codec-not-taken", "blocks", { codec: "h264" }],
    ["a profile not taken", { profile: "baseline", bFrames: 0 }, "profile-not-taken", "blocks", { profile: "high" }],
    [
      "a profile that only the sheet has",
      {},
      "encoder-profile",
      "blocks",
      { profile: "main" },
      encoder({ codecs: [{ codec: "h264", profiles: ["main"], maxLevel: "5.1" }] }),
    ],
    [
      "a profile that the sides do not share",
      {},
      "encoder-profile",
      "blocks",
      null,
      { ...sheet({ modes: [mode] }), ...encoder({ codecs: [{ codec: "h264", profiles: ["baseline"], maxLevel: "5.1" }] }) },
    ],
    [
      "a codec that the encoder lacks",
      {},
      "encoder-codec",
      "blocks",
      null,
      encoder({ codecs: [{ codec: "av1", profiles: ["main"], maxLevel: "5.1" }] }),
    ],
    // 1920×1080 at 25: 8,160 macroblocks, 204,000 a second: level 4; the encoder's 3.1 ends at 1280×720 at 30.
    [
      "a level over the encoder's",
      {},
      "encoder-level",
      "blocks",
      { width: 1280, height: 720, videoBps: 4_600_000 },
      encoder({ codecs: [{ codec: "h264", profiles: ["high"], maxLevel: "3.1" }] }),
    ],
    // Level 4 of the high profile ends at 25 Mb/s; 26 needs 4.1.
    [
      "a level over the sheet's because of the bitrate alone",
      { videoBps: 26_000_000 },
      "level-over-max",
      "blocks",
      { videoBps: 25_000_000 },
      {
        ...sheet({ modes: [{ ...mode, maxLevel: "4", maxBps: 30_000_000 }] }),
        ...encoder({ videoBps: { min: 300_000, max: 40_000_000, step: 100_000 } }),
      },
    ],
    ["capped variable rate", { rateControl: "capped-variable" }, "rate-control-not-taken", "blocks", { rateControl: "constant" }],
    ["keyframes too far apart", { keyframeS: 6 }, "keyframe-outside", "blocks", { keyframeS: 2 }],
    // 1.5 s at 25 frames/s are 37.5 frames; 38 are 1.52 s.
    ["keyframes between frames", { keyframeS: 1.5 }, "keyframe-not-whole", "notes", { keyframeS: 1.52 }],
    // 2 s at 29.97 are 59.94 frames; 60 are 2.002 s.
    [
      "keyframes at a fractional rate",
      { frameRate: "30000/1001" },
      "keyframe-not-whole",
      "notes",
      { keyframeS: 2.002 },
      camera({ frameRate: "60000/1001" }),
    ],
    // With 2 s at most, 60 frames are too many: 59 are 1.9686 s.
    [
      "keyframes at a fractional rate under a strict sheet",
      { frameRate: "30000/1001" },
      "keyframe-not-whole",
      "notes",
      { keyframeS: 1.9686 },
      { ...camera({ frameRate: "60000/1001" }), ...sheet({ keyframe: { minS: 1, recommendedS: 2, maxS: 2 } }) },
    ],
    ["too many B-frames", { bFrames: 3 }, "b-frames-over", "blocks", { bFrames: 2 }],
    ["B-frames in baseline", { profile: "baseline" }, "b-frames-in-baseline", "blocks", { bFrames: 0 }],
    ["a protocol not taken", { protocol: "srt" }, "protocol-not-taken", "blocks", { protocol: "rtmp" }],
    ["a protocol the encoder lacks, the sheet another", { protocol: "rtmps" }, "encoder-protocol", "blocks", { protocol: "rtmp" }],
    ["no protocol in common", {}, "encoder-protocol", "blocks", null, encoder({ protocols: ["srt"] })],
    ["another cadence", { frameRate: "30" }, "cadence", "risks", { frameRate: "25" }],
    [
      "another cadence that the platform does not take",
      { frameRate: "30" },
      "cadence",
      "risks",
      null,
      { ...camera({ frameRate: "50" }), ...sheet({ modes: [{ ...mode, frameRates: ["30"] }] }) },
    ],
    ["an interlaced camera", { frameRate: "25" }, "interlaced", "notes", null, camera({ scan: "interlaced", frameRate: "25" })],
    [
      "an interlaced camera on an encoder that leaves the combs in",
      {},
      "interlaced-not-mended",
      "risks",
      null,
      { ...camera({ scan: "interlaced", frameRate: "25" }), ...encoder({ deinterlaces: false }) },
    ],
    ["faster than the camera", { frameRate: "50" }, "faster-than-source", "notes", null, camera({ frameRate: "25" })],
    ["a bitrate between the encoder's steps", { videoBps: 5_050_000 }, "encoder-step", "notes", { videoBps: 5_000_000 }],
    [
      "a bitrate over the encoder's",
      {},
      "encoder-bitrate",
      "blocks",
      { videoBps: 4_000_000 },
      encoder({ videoBps: { min: 300_000, max: 4_000_000, step: 100_000 } }),
    ],
    ["a picture of another shape", { width: 640, height: 640 }, "aspect", "risks", { height: 360, videoBps: 1_500_000 }],
    ["a picture turned by a quarter", { width: 1080, height: 1920 }, "orientation", "risks", { width: 1920, height: 1080 }],
    ["a picture larger than the camera's", {}, "larger-than-source", "notes", null, camera({ width: 1280, height: 720 })],
    [
      "more pixels than the encoder makes",
      { width: 3840, height: 2160, frameRate: "60" },
      "encoder-luma",
      "blocks",
      { width: 1920, height: 1080, frameRate: "50" },
    ],
    // The reference for 1920×1080 at 25, stage, H.264 is 4.36 Mb/s; two and a half times that is 10.9.
    [
      "more bitrate than the picture needs",
      { videoBps: 12_000_000 },
      "more-than-needed",
      "notes",
      { videoBps: 10_900_000 },
      { content: "stage", ...sheet({ modes: [{ ...mode, recommendedBps: 14_000_000, maxBps: 15_000_000 }] }) },
    ],
    [
      "two faults of one bitrate have one mend",
      { videoBps: 9_550_000 },
      "video-over-max",
      "blocks",
      { videoBps: 5_600_000 },
      { usableBps: 6_000_000 },
    ],
  ];
  test.each(cases)("%s", (_name, part, code, level, patch, more = {}) => {
    const found = check(part, more).find((f) => f.code === code);
    expect(found).toMatchObject({ code, level });
    // The smallest change that does it: the fields that move, and no others.
    expect(found?.mend).toEqual(patch);
  });

  test("a load over the line is mended by the highest step that fits", () => {
    const [found] = check({ videoBps: 5_500_000 }, { usableBps: 5_000_000 }).filter((f) => f.code === "load-over-line");
    expect(found).toMatchObject({ level: "blocks", wanted: { max: 5_000_000 } });
    const mended = { ...settings, ...found?.mend };
    expect(check(mended, { usableBps: 5_000_000 })).toEqual([]);
    expect(check({ videoBps: mended.videoBps + 100_000 }, { usableBps: 5_000_000 }).map((f) => f.code)).toContain("load-over-line");
    // Where even the mode's minimum is too much, there is nothing to tap.
    expect(check({}, { usableBps: 1_000_000 }).find((f) => f.code === "load-over-line")?.mend).toBeNull();
  });

  test("the worst comes first, and each mend takes its own finding away", () => {
    const bad = { audioBps: 320_000, videoBps: 6_500_000, frameRate: "30", keyframeS: 9 };
    const findings = check(bad);
    expect(findings.map((f) => f.level)).toEqual(
      [...findings.map((f) => f.level)].sort((a, b) => ["blocks", "risks", "notes"].indexOf(a) - ["blocks", "risks", "notes"].indexOf(b)),
    );
    for (const finding of findings.filter((f) => f.mend)) {
      const after = checkSettings({ sheet: oriel, settings: mend({ ...settings, ...bad }, finding), encoder: desk, source });
      expect(after.map((f) => f.code)).not.toContain(finding.code);
    }
  });
});

describe("mend all", () => {
  const files = ["oriel-public", "parishboard", "tallgate", "halyard-relay"];
  const sheets = files.map(
    (name) => platformFile.parse(JSON.parse(readFileSync(join(__dirname, `../../demo/platforms/${name}.json`), "utf8"))).sheet,
  );
  const sides = [16, 360, 361, 540, 640, 720, 960, 1080, 1280, 1366, 1920, 2160, 3840];
  const rates = ["24", "25", "30000/1001", "30", "48", "50", "60000/1001", "60"];
  const anySettings: fc.Arbitrary<Settings> = fc.record({
    codec: fc.constantFrom("h264", "h265", "av1"),
    profile: fc.constantFrom("baseline", "main", "high", "main10"),
    width: fc.constantFrom(...sides),
    height: fc.constantFrom(...sides),
    frameRate: fc.constantFrom(...rates),
    videoBps: fc.integer({ min: 50_000, max: 60_000_000 }),
    rateControl: fc.constantFrom("constant", "capped-variable"),
    keyframeS: fc.double({ min: 0.1, max: 30, noNaN: true }),
    bFrames: fc.nat(16),
    audioBps: fc.nat(600_000),
    audioHz: fc.constantFrom(22_050, 32_000, 44_100, 48_000, 96_000),
    audioChannels: fc.integer({ min: 1, max: 8 }),
    protocol: fc.constantFrom("rtmp", "rtmps", "srt"),
  });
  const anyEncoder: fc.Arbitrary<Encoder> = fc
    .record({
      codecs: fc.constantFrom<Encoder["codecs"]>(
        desk.codecs,
        [{ codec: "h264", profiles: ["main"], maxLevel: "3.1" }],
        [{ codec: "h265", profiles: ["main"], maxLevel: "5.1" }, ...desk.codecs],
      ),
      maxWidth: fc.constantFrom(1280, 1920, 3840),
      maxHeight: fc.constantFrom(720, 1080, 2160),
      maxLumaPerS: fc.constantFrom(27_648_000, 62_208_000, 250_000_000),
      sizeMultiple: fc.constantFrom(2, 16),
      deinterlaces: fc.boolean(),
      least: fc.integer({ min: 100_000, max: 3_000_000 }),
      step: fc.constantFrom(1_000, 64_000, 100_000, 250_000, 1_000_000),
      audioMaxBps: fc.constantFrom(32_000, 96_000, 128_000, 320_000),
      protocols: fc.subarray<Settings["protocol"]>(["rtmp", "rtmps", "srt"], { minLength: 1 }),
    })
    .map(({ least, step, ...more }) => ({ ...desk, ...more, videoBps: { min: least, max: least + 9_000_000, step } }));
  const anySource: fc.Arbitrary<Source> = fc.record({
    width: fc.constantFrom(720, 1080, 1280, 1920),
    height: fc.constantFrom(576, 720, 1080, 1920),
    frameRate: fc.constantFrom("25", "30000/1001", "50", "60000/1001"),
    scan: fc.constantFrom("progressive", "interlaced"),
  });
  const input: fc.Arbitrary<CheckInput> = fc
    .record(
      {
        sheet: fc.constantFrom(...sheets),
        settings: anySettings,
        encoder: anyEncoder,
        source: anySource,
        usableBps: fc.integer({ min: 200_000, max: 30_000_000 }),
        content: fc.constantFrom("talk", "stage", "sport"),
      },
      { requiredKeys: ["sheet", "settings"] },
    )
    .map((given) => given as CheckInput);

  test("nothing that can be mended remains, and no new fault that blocks has come", () => {
    fc.assert(
      fc.property(input, (given) => {
        const { settings: after } = mendAll(given);
        const left = checkSettings({ ...given, settings: after });
        expect(left.filter((f) => f.mend !== null)).toEqual([]);
        const blocking = (found: typeof left) => found.filter((f) => f.level === "blocks").length;
        expect(blocking(left)).toBeLessThanOrEqual(blocking(checkSettings(given)));
        expect(schema.safeParse(after).success).toBe(true);
      }),
      { numRuns: 600 },
    );
  });

  test("every mend changes something, and takes its own finding away", () => {
    fc.assert(
      fc.property(input, (given) => {
        for (const finding of checkSettings(given).filter((f) => f.mend)) {
          const after = mend(given.settings, finding);
          expect(after).not.toEqual(given.settings);
          const same = checkSettings({ ...given, settings: after }).find((f) => f.code === finding.code);
          // What cannot be brought right at once is nearer: its next mend is another.
          if (same?.mend) expect(mend(after, same)).not.toEqual(after);
        }
      }),
      { numRuns: 300 },
    );
  });

  test("good settings stay as they are, and what was mended is said in order", () => {
    expect(mendAll({ ...base, settings })).toEqual({ settings, mended: [] });
    const { settings: after, mended } = mendAll({
      ...base,
      settings: { ...settings, audioBps: 320_000, videoBps: 9_550_000, keyframeS: 9 },
      usableBps: 6_000_000,
    });
    expect(mended.map((f) => f.code)).toEqual(["video-over-max", "keyframe-outside", "audio-over-max"]);
    expect(checkSettings({ ...base, settings: after, usableBps: 6_000_000 })).toEqual([]);
  });
});

describe("read back", () => {
  const order = { feedId: "f-1", role: "main" as const, uplinkId: "line", address: "rtmp://host/live", key: "abcd-efgh-ijkl-mnop" };
  const held = { engine: { settings }, feeds: { "f-1": { address: order.address, key: order.key, uplinkId: "line" } } };

  test("all equal", () => {
    expect(compareHeld({ settings, feeds: [order] }, held).every((f) => f.equal)).toBe(true);
  });

  test("finds a trimmed key without showing either", () => {
    const rows = compareHeld({ settings, feeds: [order] }, { ...held, feeds: { "f-1": { ...held.feeds["f-1"], key: `${order.key} ` } } });
    const differing = rows.filter((f) => !f.equal);
    expect(differing.map((f) => f.field)).toEqual(["key"]);
    expect(JSON.stringify(rows)).not.toContain("abcd-efgh");
  });

  test("finds a missing feed, a feed nobody asked for, and an empty engine", () => {
    const rows = compareHeld(
      { settings, feeds: [order] },
      { engine: { settings: null }, feeds: { "f-9": { address: "x", key: "y", uplinkId: "z" } } },
    );
    expect(rows.filter((f) => f.equal)).toEqual([]);
    expect(rows.map((f) => f.field)).toContain("unasked feed");
    expect(rows.find((f) => f.field === "videoBps")?.held).toBe("nothing");
  });

  test("keys are masked, and sealed so that another key or a change is noticed", () => {
    expect(maskKey("abcd-efgh-ijkl-mnop")).toBe("••••••••mnop");
    expect(maskKey("short")).toBe("••••••••");
    const key = Buffer.alloc(32, 1);
    const sealed = seal("secret", key, Buffer.alloc(12, 2));
    expect(sealed).not.toContain("secret");
    expect(unseal(sealed, key)).toBe("secret");
    expect(() => unseal(sealed, Buffer.alloc(32, 3))).toThrow();
    const changed = Buffer.from(sealed, "base64");
    changed[changed.length - 1] = (changed.at(-1) ?? 0) ^ 1;
    expect(() => unseal(changed.toString("base64"), key)).toThrow();
  });
});
