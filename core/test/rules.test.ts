import type { Settings } from "@ukaza/contract/settings";
import { compareHeld } from "../rig/readBack";
import { seal, unseal } from "../rig/seal";
import { maskKey } from "../rig/secret";
import { checkSettings, mend } from "../rules/check";
import { desk, oriel, settings } from "./kit";

const source = { width: 1920, height: 1080, frameRate: "50", scan: "progressive" } as const;
const check = (part: Partial<Settings>, usableBps?: number) =>
  checkSettings({
    sheet: oriel,
    settings: { ...settings, ...part },
    encoder: desk,
    source,
    ...(usableBps === undefined ? {} : { usableBps }),
  });

describe("findings, worked by hand", () => {
  test("good settings have none", () => {
    expect(check({})).toEqual([]);
  });

  test.each<[string, Partial<Settings>, string, string, Partial<Settings> | null]>([
    ["audio over the maximum", { audioBps: 320_000 }, "audio-over-max", "blocks", { audioBps: 256_000 }],
    ["audio under the minimum", { audioBps: 32_000 }, "audio-under-min", "blocks", { audioBps: 64_000 }],
    ["a sample rate not taken", { audioHz: 32_000 }, "sample-rate-not-taken", "blocks", { audioHz: 48_000 }],
    ["six channels", { audioChannels: 6 }, "channels-over-max", "blocks", { audioChannels: 2 }],
    ["video over the maximum", { videoBps: 9_500_000 }, "video-over-max", "blocks", { videoBps: 9_000_000 }],
    ["video under the minimum", { videoBps: 2_000_000 }, "video-under-min", "blocks", { videoBps: 3_000_000 }],
    ["video over the recommended", { videoBps: 6_500_000 }, "video-over-recommended", "notes", { videoBps: 5_800_000 }],
    [
      "a size not taken",
      { width: 2560, height: 1440 },
      "size-not-taken",
      "blocks",
      { width: 1920, height: 1080, frameRate: "25", codec: "h264" },
    ],
    ["a rate not taken", { frameRate: "48" }, "frame-rate-not-taken", "blocks", { frameRate: "50" }],
    ["a codec not taken", { codec: "h265" }, "codec-not-taken", "blocks", { codec: "h264", frameRate: "25" }],
    ["a profile not taken", { profile: "baseline", bFrames: 0 }, "profile-not-taken", "blocks", { profile: "high" }],
    ["capped variable rate", { rateControl: "capped-variable" }, "rate-control-not-taken", "blocks", { rateControl: "constant" }],
    ["keyframes too far apart", { keyframeS: 6 }, "keyframe-outside", "blocks", { keyframeS: 2 }],
    ["keyframes between frames", { keyframeS: 1.5 }, "keyframe-not-whole", "notes", null],
    ["too many B-frames", { bFrames: 3 }, "b-frames-over", "blocks", { bFrames: 2 }],
    ["B-frames in baseline", { profile: "baseline" }, "b-frames-in-baseline", "blocks", { bFrames: 0 }],
    ["a protocol not taken", { protocol: "srt" }, "protocol-not-taken", "blocks", { protocol: "rtmp" }],
    ["a protocol the encoder lacks", { protocol: "rtmps" }, "encoder-protocol", "blocks", null],
    ["another cadence", { frameRate: "30" }, "cadence", "risks", { frameRate: "50" }],
    ["a bitrate between the encoder's steps", { videoBps: 5_050_000 }, "encoder-step", "notes", { videoBps: 5_000_000 }],
    ["a picture of another shape", { width: 640, height: 640 }, "aspect", "risks", null],
    ["a picture larger than the camera's", { width: 3840, height: 2160 }, "larger-than-source", "notes", null],
    ["more pixels than the encoder makes", { width: 3840, height: 2160, frameRate: "60" }, "encoder-luma", "blocks", null],
  ])("%s", (_name, part, code, level, patch) => {
    const found = check(part).find((f) => f.code === code);
    expect(found).toMatchObject({ code, level, mend: patch });
  });

  test("a load over the line is mended by the highest step that fits", () => {
    const [found] = check({ videoBps: 5_500_000 }, 5_000_000).filter((f) => f.code === "load-over-line");
    expect(found).toMatchObject({ level: "blocks", wanted: { max: 5_000_000 } });
    const mended = { ...settings, ...found?.mend };
    expect(check(mended, 5_000_000)).toEqual([]);
    expect(check({ videoBps: mended.videoBps + 100_000 }, 5_000_000).map((f) => f.code)).toContain("load-over-line");
    // Where even the mode's minimum is too much, there is nothing to tap.
    expect(check({}, 1_000_000).find((f) => f.code === "load-over-line")?.mend).toBeNull();
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
