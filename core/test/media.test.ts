import fc from "fast-check";
import { frameRateHz, keyframeFrames, parseFrameRate, rateFamily } from "../media/frameRate";
import { codecLevel } from "../media/levels";
import { feedLoad } from "../media/load";
import { settings } from "./kit";

describe("frame rates", () => {
  test("are exact fractions", () => {
    expect(parseFrameRate("30000/1001")).toEqual({ num: 30000, den: 1001 });
    expect(frameRateHz("60000/1001")).toBeCloseTo(59.94006, 5);
    expect(() => parseFrameRate("29,97")).toThrow(/write it as 25 or 30000\/1001/);
  });

  test.each([
    ["25", "25"],
    ["50", "25"],
    ["30000/1001", "30"],
    ["30", "30"],
    ["60000/1001", "30"],
    ["24000/1001", "24"],
    ["17", "other"],
  ])("%s belongs to the family of %s", (rate, family) => {
    expect(rateFamily(rate)).toBe(family);
  });

  test("keyframes are counted in whole frames", () => {
    expect(keyframeFrames(2, "25")).toBe(50);
    expect(keyframeFrames(2, "30000/1001")).toBe(60);
  });
});

describe("H.264 levels (Table A-1)", () => {
  // Worked by hand: macroblocks are 16×16, a frame of 1920×1080 holds 120×68 = 8160 of them.
  test.each([
    [1920, 1080, "25", 6_000_000, "high", "4"],
    [1920, 1080, "30", 6_000_000, "high", "4"],
    [1920, 1080, "50", 8_500_000, "high", "4.2"],
    [1920, 1080, "30", 26_000_000, "high", "4.1"],
    [1280, 720, "30", 3_000_000, "high", "3.1"],
    [1280, 720, "60", 3_000_000, "high", "3.2"],
    [1280, 720, "30", 16_000_000, "main", "3.2"],
    [640, 360, "25", 900_000, "baseline", "3"],
    [176, 144, "15", 60_000, "baseline", "1"],
    [3840, 2160, "60", 40_000_000, "high", "5.2"],
  ] as const)("%d×%d at %s and %d bit/s in %s need level %s", (w, h, rate, bps, profile, level) => {
    expect(codecLevel({ codec: "h264", width: w, height: h, frameRate: rate, videoBps: bps, profile })).toBe(level);
  });

  test("a picture beyond the last level has none", () => {
    for (const codec of ["h264", "h265", "av1"] as const)
      expect(codecLevel({ codec, width: 16_384, height: 16_384, frameRate: "60", videoBps: 1_000_000, profile: "main" })).toBeNull();
  });

  test("a very long picture needs a higher level than its area alone: no side over sqrt(8·MaxFS)", () => {
    // 2400×16: 150 macroblocks in one row; level 1.1 takes 396 in all but only sqrt(8·396) = 56 in a row; 150 needs MaxFS ≥ 2813.
    expect(codecLevel({ codec: "h264", width: 2400, height: 16, frameRate: "1", videoBps: 10_000, profile: "main" })).toBe("3.1");
  });

  test.each(["h264", "h265", "av1"] as const)("%s: more of anything never needs a lower level", (codec) => {
    const level = (width: number, height: number, fps: number, videoBps: number) =>
      Number(codecLevel({ codec, width, height, frameRate: String(fps), videoBps, profile: "main" }) ?? 99);
    const even = fc.integer({ min: 8, max: 2_500 }).map((n) => 2 * n);
    const more = fc.integer({ min: 0, max: 500 });
    fc.assert(
      fc.property(even, even, fc.integer({ min: 1, max: 120 }), fc.integer({ min: 1, max: 80_000_000 }), more, (w, h, fps, bps, plus) => {
        const own = level(w, h, fps, bps);
        expect(level(w + 2 * plus, h, fps, bps)).toBeGreaterThanOrEqual(own);
        expect(level(w, h + 2 * plus, fps, bps)).toBeGreaterThanOrEqual(own);
        expect(level(w, h, fps + plus, bps)).toBeGreaterThanOrEqual(own);
        expect(level(w, h, fps, bps + plus * 100_000)).toBeGreaterThanOrEqual(own);
      }),
      { numRuns: 300 },
    );
  });
});

describe("H.265 (Tables A.8, A.9, main tier) and AV1 (Annex A.3) levels", () => {
  // Worked by hand: 1920×1080 holds 2,073,600 samples; at 25 that is 51,840,000 a second, at 50 103,680,000.
  test.each([
    ["h265", 1920, 1080, "25", 5_000_000, "4"],
    ["h265", 1920, 1080, "50", 5_000_000, "4.1"],
    ["h265", 1920, 1080, "25", 13_000_000, "4.1"],
    ["h265", 1280, 720, "30", 3_000_000, "3.1"],
    ["h265", 3840, 2160, "30", 20_000_000, "5"],
    ["h265", 3840, 2160, "60", 30_000_000, "5.1"],
    ["h265", 416, 240, "30", 1_000_000, "2"],
    ["av1", 1920, 1080, "25", 5_000_000, "4.0"],
    ["av1", 1920, 1080, "50", 5_000_000, "4.1"],
    ["av1", 1920, 1080, "25", 13_000_000, "4.1"],
    ["av1", 3840, 2160, "60", 20_000_000, "5.1"],
    ["av1", 854, 480, "30", 2_000_000, "3.0"],
    // 1.05 million samples would do for 3.1, but its pictures are at most 3096 high.
    ["av1", 300, 3_200, "1", 100_000, "4.0"],
  ] as const)("%s %d×%d at %s and %d bit/s needs level %s", (codec, width, height, frameRate, videoBps, level) => {
    expect(codecLevel({ codec, width, height, frameRate, videoBps, profile: "main" })).toBe(level);
  });
});

describe("load at the IP layer", () => {
  test("RTMP, worked by hand", () => {
    // Picture: 5,000,000/8/25 = 25,000 bytes + 5; 7 chunks: 8 + 6 headers = 25,019 bytes; × 25 = 625,475 bytes/s.
    // Sound: 48,000/1024 = 46.875 frames/s of 128,000/8/46.875 = 341.333 + 2 + 8 bytes = 351.333; × 46.875 = 16,468.75 bytes/s.
    // Together 641,943.75 bytes/s in segments of 1448 with 52 header bytes: × (1 + 52/1448) × 8 = 5,319,976.6 bit/s.
    const byHand = 8 * (625_475 + 16_468.75) * (1 + 52 / 1448);
    expect(feedLoad(settings).loadBps).toBe(Math.ceil(byHand));
    expect(feedLoad(settings).loadBps).toBe(5_319_976);
  });

  test("RTMPS adds 22 bytes for each record", () => {
    const plain = feedLoad(settings).loadBps;
    // Pictures of 25,019 bytes take two records, sound frames one: 25·2 + 46.875 records a second.
    const extra = 8 * 22 * (50 + 46.875) * (1 + 52 / 1448);
    expect(feedLoad({ ...settings, protocol: "rtmps" }).loadBps).toBeCloseTo(plain + extra, -1);
  });

  test("SRT, worked by hand", () => {
    // Picture: 25,000 + 19 + 8 bytes in 184-byte payloads: ceil(25,027/184) = 137 packets × 25 = 3,425 packets/s.
    // Sound: 341.333 + 14 + 7 = 362.33 bytes: 2 packets × 46.875 = 93.75; tables 20. Together 3,538.75 packets/s.
    const bytes = 3_538.75 * 188 + (3_538.75 / 7) * 44;
    expect(feedLoad({ ...settings, protocol: "srt" }).loadBps).toBe(Math.ceil(8 * bytes + 35_200));
    expect(feedLoad({ ...settings, protocol: "srt" }, 0.1).loadBps).toBe(Math.ceil(8 * bytes * (1 + 0.1 / 0.9) + 35_200));
  });

  test("grows with bitrate and never falls below the media", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 100_000, max: 20_000_000 }),
        fc.integer({ min: 1, max: 2_000_000 }),
        fc.constantFrom("rtmp", "rtmps", "srt"),
        fc.constantFrom("25", "30000/1001", "60"),
        (videoBps, more, protocol, frameRate) => {
          const less = feedLoad({ ...settings, protocol, frameRate, videoBps }).loadBps;
          const greater = feedLoad({ ...settings, protocol, frameRate, videoBps: videoBps + more }).loadBps;
          expect(greater).toBeGreaterThanOrEqual(less);
          expect(less).toBeGreaterThan(videoBps + settings.audioBps);
        },
      ),
    );
  });
});
