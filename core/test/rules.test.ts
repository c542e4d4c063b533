import type { Encoder } from "@ukaza/contract/encoder";
import type { CheckInput } from "@ukaza/contract/findings";
import type { Mode, RuleSheet } from "@ukaza/contract/ruleSheet";
import type { Settings, Source } from "@ukaza/contract/settings";
import { checkSettings, mend } from "../rules/check";
import { desk, oriel, settings, shippedSheets } from "./kit";

const source = { width: 1920, height: 1080, frameRate: "50", scan: "progressive" } as const;
const base = { sheet: oriel, encoder: desk, source } as const;
const check = (part: Partial<Settings>, more: Partial<CheckInput> = {}) =>
  checkSettings({ ...base, settings: { ...settings, ...part }, ...more });
/** A sheet that differs from the demo's in some places. */
const sheet = (more: Partial<RuleSheet>): { sheet: RuleSheet } => ({ sheet: { ...oriel, ...more } });
const encoder = (more: Partial<Encoder>): { encoder: Encoder } => ({ encoder: { ...desk, ...more } });
const camera = (more: Partial<Source>) => ({ source: { ...source, ...more } });
const mode = oriel.modes[1] as Mode;
const [way] = oriel.protocols as [RuleSheet["protocols"][number]];
const any = shippedSheets["any-server"];

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
    [
      "a protocol not taken",
      { protocol: "srt" },
      "protocol-not-taken",
      "blocks",
      { protocol: "rtmp" },
      encoder({ protocols: ["rtmp", "srt"] }),
    ],
    [
      "a protocol the encoder lacks, the sheet another",
      { protocol: "rtmps" },
      "encoder-protocol",
      "blocks",
      { protocol: "rtmp" },
      encoder({ protocols: ["rtmp", "srt"] }),
    ],
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
      "a size that the encoder's list does not have",
      { width: 1920, height: 1080 },
      "encoder-size-list",
      "blocks",
      { width: 1280, height: 720, videoBps: 4_600_000 },
      encoder({ sizes: [{ width: 1280, height: 720 }] }),
    ],
    [
      "a frame rate that the encoder's list does not have",
      { frameRate: "30" },
      "encoder-frame-rate",
      "blocks",
      { frameRate: "25" },
      encoder({ frameRates: ["25", "50"] }),
    ],
    [
      "an encoder that sends the rate that comes in",
      { frameRate: "25" },
      "encoder-keeps-rate",
      "blocks",
      { frameRate: "50" },
      encoder({ convertsFrameRate: false }),
    ],
    [
      "a portrait picture from an encoder that makes none",
      { width: 1080, height: 1920 },
      "encoder-orientation",
      "blocks",
      { width: 1920, height: 1080 },
      encoder({ orientations: ["landscape"] }),
    ],
    [
      "a sample rate that only the sheet has",
      { audioHz: 44_100 },
      "encoder-sample-rate",
      "blocks",
      { audioHz: 48_000 },
      encoder({ audioRatesHz: [48_000] }),
    ],
    ["two channels from an encoder of one", {}, "encoder-channels", "blocks", { audioChannels: 1 }, encoder({ audioChannelsMax: 1 })],
    [
      "user name and password wanted, and no fields for them: another protocol",
      { protocol: "srt" },
      "encoder-no-login",
      "blocks",
      { protocol: "rtmp" },
      {
        ...encoder({ credentials: [] }),
        ...sheet({ protocols: [way, { ...way, protocol: "srt", login: "required" }] }),
      },
    ],
    [
      "a name to call itself, and no other way in",
      {},
      "encoder-no-user-agent",
      "blocks",
      null,
      { ...encoder({ credentials: [] }), ...sheet({ protocols: [{ ...way, userAgent: "Sender" }] }) },
    ],
    [
      "keyframes at cuts that cannot be switched off",
      {},
      "keyframes-at-cuts",
      "risks",
      null,
      { ...encoder({ keyframesAtCuts: "always" }), ...sheet({ keyframeFixed: true }) },
    ],
    ["keyframes at cuts that can", {}, "keyframes-at-cuts-off", "notes", null, sheet({ keyframeFixed: true })],
    [
      "a camera that none of the inputs takes",
      {},
      "no-input",
      "risks",
      null,
      encoder({ inputs: [{ connector: "HDMI", signals: [{ width: 1920, height: 1080, frameRates: ["60"], scan: "progressive" }] }] }),
    ],
    [
      "an H.265 level over the encoder's",
      { codec: "h265", profile: "main", width: 1280, height: 720, frameRate: "50", videoBps: 13_000_000 },
      "encoder-level",
      "blocks",
      { videoBps: 12_000_000 },
      {
        ...encoder({
          codecs: [{ codec: "h265", profiles: ["main"], maxLevel: "4" }],
          videoBps: { min: 1, max: 20_000_000, step: 1_000_000 },
        }),
        sheet: any,
      },
    ],
    [
      "a picture that no level holds",
      { width: 16_384, height: 16_384 },
      "no-level",
      "blocks",
      { width: 1920, height: 1080 },
      { sheet: any, encoder: undefined, source },
    ],
    [
      "H.265 over RTMP, to a server that says nothing of it",
      { codec: "h265", profile: "main" },
      "codec-over-rtmp",
      "risks",
      null,
      { sheet: any, encoder: undefined },
    ],
    [
      "an uneven side, wherever it is sent",
      { width: 1921 },
      "size-not-multiple",
      "blocks",
      { width: 1920 },
      { sheet: any, encoder: undefined },
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

test("a server of one's own takes what the standards hold, with nothing to say of it", () => {
  for (const [width, height, frameRate] of [
    [1024, 576, "25"],
    [1080, 1080, "30"],
    [2560, 1440, "50"],
  ] as const)
    expect(checkSettings({ sheet: any, settings: { ...settings, width, height, frameRate } })).toEqual([]);
});
