import type { Encoder } from "@ukaza/contract/encoder";
import type { CheckInput } from "@ukaza/contract/findings";
import { type Settings, type Source, settings as schema } from "@ukaza/contract/settings";
import fc from "fast-check";
import { checkSettings, mend, mendAll } from "../rules/check";
import { desk, oriel, settings, shippedSheets } from "./kit";

const base = { sheet: oriel, encoder: desk, source: { width: 1920, height: 1080, frameRate: "50", scan: "progressive" } } as const;

describe("mend all", () => {
  const sheets = Object.values(shippedSheets);
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
        [{ codec: "av1", profiles: ["main"], maxLevel: "4.0" }],
      ),
      maxWidth: fc.constantFrom(1280, 1920, 3840),
      maxHeight: fc.constantFrom(720, 1080, 2160),
      sizes: fc.constantFrom<Encoder["sizes"]>(null, [
        { width: 1280, height: 720 },
        { width: 720, height: 1280 },
      ]),
      frameRates: fc.constantFrom<Encoder["frameRates"]>(null, ["25", "30"], ["50"]),
      orientations: fc.subarray<Encoder["orientations"][number]>(["landscape", "portrait"], { minLength: 1 }),
      convertsFrameRate: fc.boolean(),
      keyframesAtCuts: fc.constantFrom("never", "always", "choice"),
      audioRatesHz: fc.constantFrom<number[]>([48_000], [44_100], [44_100, 48_000]),
      audioChannelsMax: fc.constantFrom(1, 2),
      credentials: fc.subarray<Encoder["credentials"][number]>(["login", "stream id", "passphrase", "user agent"]),
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
