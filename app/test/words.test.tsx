import { type LogLine, logKind } from "@ukaza/contract/air";
import type { Finding } from "@ukaza/contract/findings";
import type { PathVerdict } from "@ukaza/contract/survey";
import { checkSettings } from "@ukaza/core/rules/check";
import { desk, oriel, settings, verdict } from "../../core/test/kit";
import { adviceSentence, causeSentence, decisionSentence, logSentence } from "../words/air";
import { findingSentence, mendText, ruleText } from "../words/findings";
import { stepSentence, verdictText, wrapOrderSentence } from "../words/lineup";
import { costSentence, evidenceSentence, missingSentence, oddSentence, pathSentence, windowText } from "../words/survey";
import { clock, dataText, dayNumberText, frameRateText, rateText, timeText } from "../words/units";

describe("figures with their units", () => {
  test.each([
    [999, "1 kb/s"],
    [128_000, "128 kb/s"],
    [999_999, "1000 kb/s"],
    [1_000_000, "1.0 Mb/s"],
    [12_345_678, "12.3 Mb/s"],
    [250_000_000, "250 Mb/s"],
  ])("%d bit/s is %s", (bps, text) => {
    expect(rateText(bps)).toBe(text);
  });
  test.each([
    [0, "0:00"],
    [59.9, "0:59"],
    [61, "1:01"],
    [3_600, "1:00:00"],
    [36_061, "10:01:01"],
    [-5, "0:00"],
  ])("%d s is %s", (s, text) => {
    expect(clock(s)).toBe(text);
  });
  test("data, rates and times", () => {
    expect([500, 2_500_000, 8_481_627_000].map(dataText)).toEqual(["1 kB", "2.5 MB", "8.48 GB"]);
    expect(["25", "30000/1001"].map(frameRateText)).toEqual(["25 frames/s", "29.97 frames/s"]);
    expect(timeText("2026-06-10T18:30:05Z", "Europe/London", true)).toBe("19:30:05");
    expect(dayNumberText("2026-12-31T23:30:00Z", "Asia/Tokyo")).toBe("2027-01-01 08:30");
  });
});

/** What no sentence may hold: a hole where a value should be, a code, or an unfinished word. */
function mustBeWords(sentence: string): void {
  expect(sentence).not.toMatch(/undefined|null|NaN|\[object|_|\{|\}/);
  expect(sentence.length).toBeGreaterThan(8);
}

describe("findings", () => {
  const source = { width: 1920, height: 1080, frameRate: "50", scan: "progressive" } as const;
  const bad = [
    { audioBps: 320_000, videoBps: 9_900_000, keyframeS: 9, bFrames: 5, audioHz: 32_000, audioChannels: 6 },
    { width: 2560, height: 1440, frameRate: "30", rateControl: "capped-variable", protocol: "srt" },
    { codec: "h265", profile: "main10", audioBps: 32_000, videoBps: 100_000 },
    { width: 7680, height: 4320, frameRate: "60", protocol: "rtmps" },
    { profile: "baseline", keyframeS: 1.5, videoBps: 5_850_000, frameRate: "48" },
  ] as const;
  const found: Finding[] = bad.flatMap((part) =>
    checkSettings({ sheet: oriel, settings: { ...settings, ...part }, encoder: desk, source, usableBps: 4_000_000 }),
  );

  test("each kind that settings can bring about has its own words, with a mend in words", () => {
    expect(new Set(found.map((f) => f.code)).size).toBeGreaterThanOrEqual(18);
    for (const finding of found) {
      mustBeWords(findingSentence(finding));
      mustBeWords(ruleText(finding));
      const mend = mendText(finding);
      expect(mend === null).toBe(finding.mend === null);
      if (mend) mustBeWords(mend);
    }
  });

  test("a code from a newer core still says field and figures", () => {
    const [finding] = found;
    if (!finding) throw new Error("no finding");
    expect(findingSentence({ ...finding, code: "something-new", field: "audioBps", is: 5, wanted: { min: 1_000, max: 2_000 } })).toBe(
      "Audio bitrate: 5; wanted 1 kb/s to 2 kb/s.",
    );
  });
});

describe("survey", () => {
  const r = verdict;
  const p = (more: Partial<PathVerdict>): PathVerdict => ({
    rttMs: 15,
    lossRatio: 0.0002,
    rtmpCapBps: 60e6,
    srtLatencyMs: 120,
    srtExtraShare: 0,
    favours: "rtmp",
    why: "clean",
    ...more,
  });

  test("the evidence is said with its numbers", () => {
    expect(evidenceSentence(r({}))).toBe(
      "41 tests, 31 near show time. With 95 % certainty, 9 of 10 tests at this hour are above 12.4 Mb/s.",
    );
    expect(evidenceSentence(r({ evidence: "minimum", used: 9, sameKindOfDay: "weekend" }))).toContain(
      "9 of them on a weekend. The slowest of them was 12.4 Mb/s",
    );
    expect(evidenceSentence(r({ evidence: "few", total: 1, nearShow: 1, used: 1 }))).toBe(
      "1 test, 1 near show time. The slowest was 12.4 Mb/s; with so few, half is kept free.",
    );
    expect(evidenceSentence(r({ allHours: true, nearShow: 2 }))).toContain("only 2 near show time, so all hours count");
    expect(evidenceSentence(r({ evidence: "none", total: 0 }))).toBe("Nothing has been measured here yet.");
    expect(evidenceSentence(r({ evidence: "none", total: 2, floors: 2 }))).toContain("lower limits");
    expect(evidenceSentence(r({ evidence: "none", total: 2, excluded: 2 }))).toContain("Every test here has been excluded");
    expect(evidenceSentence(r({ basis: "members", evidence: "few" }))).toContain(
      "added, less 5 % for bonding. The least certain of them is few tests",
    );
  });

  test("what is missing is said with its hours, its day and what it gives", () => {
    const next = { more: 12, kindOfDay: "weekday", evidence: "interval", reserve: 0.2, leavesAllHours: false } as const;
    expect(missingSentence(r({ evidence: "minimum", ruleReserve: 0.35, next }))).toBe(
      "12 more tests between 18:00 and 23:00 on a weekday lower the reserve from 35 % to 20 %.",
    );
    expect(
      missingSentence(
        r({
          evidence: "minimum",
          ruleReserve: 0.35,
          next: { ...next, more: 2, kindOfDay: "weekend", reserve: 0.35, leavesAllHours: true },
        }),
      ),
    ).toBe("2 more tests between 18:00 and 23:00 at a weekend and only tests near show time count.");
    expect(missingSentence(r({ evidence: "none", next: { ...next, more: 1 } }))).toContain(
      "1 more test between 18:00 and 23:00 on a weekday gives a first figure",
    );
    expect(missingSentence(r({}))).toBeNull();
    expect(windowText({ fromMinute: 1380, untilMinute: 1530 })).toBe("between 23:00 and 01:30");
    expect(windowText({ fromMinute: 0, untilMinute: 1440 })).toBe("at any hour");
  });

  test("odd tests are pointed out, one or several", () => {
    expect(oddSentence(r({}))).toBeNull();
    expect(oddSentence(r({ outliersLow: 1 }))).toContain("1 test lies far below the others of its hour. It counts; look at it");
    expect(oddSentence(r({ outliersLow: 2, outliersHigh: 1 }))).toContain(
      "2 tests lie far below and 1 test lies far above the others of their hour. They count",
    );
  });

  test("what a test costs: data, price and what is left, before it is started", () => {
    expect(costSentence(1, 8e6, null)).toBe("A test sends about 12.0 MB over this line.");
    const metered = { allowanceGb: 2, usedGb: 1.5, pricePerGb: 4 };
    expect(costSentence(10, 8e6, metered)).toBe(
      "10 tests send about 120.5 MB over this line, at 4 per GB that is 0.48. 0.5 GB of 2 are left.",
    );
    expect(costSentence(100, 8e6, metered)).toContain("That is more than is left.");
    expect(costSentence(1, 8e6, { ...metered, allowanceGb: null, pricePerGb: null })).toBe("A test sends about 12.0 MB over this line.");
  });

  test("the path is said with its reason", () => {
    expect(pathSentence(p({}))).toContain("Clean enough for RTMP, which could carry 60.0 Mb/s");
    expect(pathSentence(p({ why: "tcp-capped", rtmpCapBps: 3.2e6 }))).toContain("would carry only 3.2 Mb/s (Mathis 1997)");
    expect(pathSentence(p({ why: "lossy" }))).toContain("TCP stall");
    expect(pathSentence(p({ why: "unmeasured", rttMs: null, lossRatio: null }))).toContain("not been measured");
  });
});

describe("line-up and air", () => {
  test("a step says what it means and what it freezes", () => {
    const step = {
      id: "preview",
      actor: "platform",
      state: "waiting",
      needs: [],
      missing: [],
      irreversible: false,
      freezes: ["size", "frameRate"],
      typicalS: 1,
      longestS: 2,
      waitingSince: null,
      doneAt: null,
      reason: null,
    } as const;
    expect(stepSentence({ ...step, needs: [], missing: [], freezes: ["size", "frameRate"] }, "Oriel Public")).toBe(
      "Waiting here is normal; nothing needs restarting. From here on size, frame rate are frozen.",
    );
    expect(wrapOrderSentence("platform", "Oriel Public")).toContain("End on Oriel Public first");
    expect(wrapOrderSentence("encoder", "Oriel Public")).toContain("Stop the encoder first");
    expect([verdictText(null, null), verdictText("good", null), verdictText("refused", "audio-over-max")]).toEqual([
      "no word yet",
      "good",
      "refused: audio over max",
    ]);
  });

  test("cause and evidence stand in one sentence, advice in another", () => {
    expect(
      causeSentence({
        cause: "uplink",
        evidence: [
          { sign: "sent-low", is: 0.62, limit: 0.9 },
          { sign: "queue", is: 2_300, limit: 1_000 },
          { sign: "siblings-fine", is: null, limit: null },
        ],
      }),
    ).toBe(
      "The uplink is at fault: only 62 % of the target is sent; 2.3 s wait in the encoder's queue; the feed over the other uplink is steady.",
    );
    const ill = { feedId: "f", health: "broken", since: "2026-06-10T18:00:00Z", evidence: [] } as const;
    for (const cause of ["uplink", "encoder", "platform", "source"] as const)
      expect(adviceSentence({ ...ill, evidence: [], cause }, "steady")).not.toBeNull();
    expect(adviceSentence({ ...ill, evidence: [], health: "steady", cause: null }, null)).toBeNull();
    expect(decisionSentence({ kind: "call", from: "main", to: "main", reason: "no-better-feed", gapS: 7 })).toBe(
      "Needs you: no other feed is better, after 7 s without a steady picture.",
    );
  });

  test.each<[Partial<LogLine>, string]>([
    [{ kind: "health", feedId: "f", data: { from: "silent", to: "steady" } }, "Main feed is steady."],
    [{ kind: "health", feedId: "f", data: { from: "broken", to: "steady" } }, "Main feed is steady again."],
    [
      {
        kind: "health",
        feedId: "f",
        data: { from: "steady", to: "silent", cause: "unknown", evidence: [{ sign: "not-heard", is: 5, limit: 5 }] },
      },
      "Main feed is silent. The cause is not clear yet: nothing heard for 5 s.",
    ],
    [
      { kind: "switch", data: { decision: { kind: "switch", from: "main", to: "backup", reason: "main-broken", gapS: 6 } } },
      "Switched from main to backup (auto: the main feed broke), after 6 s without a steady picture.",
    ],
    [
      { kind: "advise", data: { decision: { kind: "advise", from: "backup", to: "main", reason: "return-by-hand", gapS: 0 } } },
      "The main feed has been steady for long enough: return to it by hand when it suits.",
    ],
    [{ kind: "step-done", data: { step: "send", by: "crew" } }, "Encoder sends (crew)."],
    [{ kind: "step-failed", data: { step: "switch", to: "backup", reason: "no answer" } }, "Switching to backup failed: no answer."],
    [
      { kind: "trouble", data: { uplinkId: "hall-fibre", change: { kind: "sink", toBps: 3_500_000 } } },
      "Trouble sheet: hall fibre sunk to 3.5 Mb/s.",
    ],
    [
      { kind: "server-started-again", data: { gapS: 4 } },
      "The server started again and picked the event up where it was; 4 s went unwatched.",
    ],
    [{ kind: "driver-lost", data: { side: "encoder" } }, "No answer from the encoder: its figures are missing."],
    [{ kind: "driver-back", data: { side: "platform", forS: 9 } }, "The platform answers again, after 9 s."],
    [{ kind: "key-revealed", data: { role: "main" } }, "The main key was revealed."],
    [{ kind: "read-back", data: { equal: false, differing: ["main key", "backup key"] } }, "Read back: main key, backup key differ."],
    [{ kind: "note", data: { text: "sending-stopped-before-public" } }, "Sending stopped before anything was public."],
  ])("the log line %j", (part, sentence) => {
    const line: LogLine = { id: 1, at: "2026-06-10T18:00:00Z", level: "info", feedId: null, kind: "note", data: {}, ...part };
    expect(logSentence(line, () => "Main feed")).toBe(sentence);
  });

  test("a line of every kind, even an empty one from a file, gives words and never fails", () => {
    for (const kind of logKind.options)
      expect(typeof logSentence({ id: 1, at: "2026-06-10T18:00:00Z", level: "info", feedId: null, kind, data: {} }, () => "A feed")).toBe(
        "string",
      );
  });
});
