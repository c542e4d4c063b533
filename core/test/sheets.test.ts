import { encoder } from "@ukaza/contract/encoder";
import { type Mode, mode as modeSchema, type RuleSheet, ruleSheet } from "@ukaza/contract/ruleSheet";
import fc from "fast-check";
import { documentDiff } from "../formats/documentDiff";
import { readModesTable, writeModesTable } from "../formats/modesTable";
import { baseSettings } from "../rules/baseSettings";
import { checkSettings } from "../rules/check";
import { commonPictures } from "../rules/common";
import { oriel, shippedKit, shippedSheets } from "./kit";

const sheets = Object.values(shippedSheets);

describe("shipped sheets", () => {
  test.each(Object.entries(shippedSheets))("%s reads back from what is written of it", (_name, sheet) => {
    expect(ruleSheet.parse(JSON.parse(JSON.stringify(sheet)))).toEqual(sheet);
  });

  test.each(Object.entries(shippedKit))("encoder %s reads back from what is written of it", (_name, kit) => {
    expect(encoder.parse(JSON.parse(JSON.stringify(kit)))).toEqual(kit);
  });

  test("they really differ: no two say the same of anything that matters", () => {
    const said = (pick: (s: RuleSheet) => unknown) => new Set(sheets.map((s) => JSON.stringify(pick(s)))).size;
    expect(said((s) => s.modes)).toBe(5);
    expect(said((s) => s.protocols)).toBe(5);
    expect(said((s) => s.lifecycle)).toBe(5);
    expect(said((s) => s.listing)).toBe(4);
    expect(said((s) => s.audio)).toBe(5);
    // The relay and a server of one's own have no viewers and no listing of their own.
    expect(said((s) => s.latencyModes)).toBe(4);
    for (const pick of [
      (s: RuleSheet) => s.keyframe,
      (s: RuleSheet) => s.keyLife,
      (s: RuleSheet) => s.bFramesMax,
      (s: RuleSheet) => s.alsoTakes,
    ])
      expect(said(pick)).toBeGreaterThanOrEqual(3);
    for (const pick of [
      (s: RuleSheet) => s.transcodes,
      (s: RuleSheet) => s.backupIngest,
      (s: RuleSheet) => s.pricePerHour,
      (s: RuleSheet) => s.regions.length,
      (s: RuleSheet) => s.renditionsMax,
    ])
      expect(said(pick)).toBeGreaterThanOrEqual(2);
  });
});

describe("what changed between two sheets", () => {
  test("nothing, and only the revision, is no change", () => {
    expect(documentDiff(oriel, oriel)).toEqual([]);
    expect(documentDiff(oriel, { ...oriel, revision: 9 })).toEqual([]);
  });

  test("a figure, a row that moved, a row added and one taken out are each said once and where", () => {
    const [first, second, ...rest] = oriel.modes as [Mode, Mode, ...Mode[]];
    const added: Mode = { ...first, width: 3840, height: 2160, maxLevel: "5.2" };
    const after: RuleSheet = {
      ...oriel,
      revision: 2,
      audio: { ...oriel.audio, maxBps: 192_000 },
      modes: [added, { ...second, maxBps: 8_000_000 }, ...rest],
      listing: null,
    };
    const name = (m: Mode) => `modes[${m.width}×${m.height} ${m.codec} ${m.frameRates.join(", ")}]`;
    const changes = documentDiff(oriel, after);
    expect(changes.map((c) => c.path).sort()).toEqual(
      ["audio.maxBps", "listing", name(added), name(first), `${name(second)}.maxBps`].sort(),
    );
    expect(changes.find((c) => c.path === "audio.maxBps")).toEqual({ path: "audio.maxBps", before: 256_000, after: 192_000 });
    expect(changes.find((c) => c.path === name(first))).toMatchObject({ before: first, after: null });
    expect(changes.find((c) => c.path === name(added))).toMatchObject({ before: null, after: added });
  });
});

describe("what several platforms take alike", () => {
  const common = (...chosen: number[]) => commonPictures(chosen.map((i) => sheets[i] as RuleSheet));
  test("by hand: big landscape pages and the community pages meet at 1280×720 and 30, under the smaller limits", () => {
    // Oriel takes 1.4 to 4.6 Mb/s there, recommends 2.9; Parishboard 1.5 to 4.0, recommends 3.0. Audio 128 kb/s is all that Parishboard takes at most.
    expect(common(0, 1)[0]).toEqual({
      width: 1280,
      height: 720,
      frameRate: "30",
      codec: "h264",
      profiles: ["main"],
      minBps: 1_500_000,
      maxBps: 4_000_000,
      videoBps: 2_900_000,
      audioBps: 128_000,
    });
  });
  test("portrait and landscape have nothing in common; one alone has all its own", () => {
    expect(common(0, 2)).toEqual([]);
    expect(common(2)[0]).toMatchObject({ width: 1080, height: 1920 });
    expect(commonPictures([])).toEqual([]);
  });
  test("a server that takes any picture takes nothing away from what another names", () => {
    const { parishboard } = shippedSheets;
    const own = commonPictures([parishboard]).map((c) => [c.width, c.height, c.frameRate]);
    for (const pair of [
      [parishboard, shippedSheets["any-server"]],
      [shippedSheets["any-server"], parishboard],
    ])
      expect(commonPictures(pair).map((c) => [c.width, c.height, c.frameRate])).toEqual(own);
  });

  test("whatever is common is taken by each of them without a finding that blocks", () => {
    for (const chosen of [
      [0, 1],
      [0, 3],
      [1, 3],
      [0, 1, 3],
    ]) {
      for (const c of common(...chosen)) {
        for (const i of chosen) {
          const sheet = sheets[i] as RuleSheet;
          const [protocol] = sheet.protocols;
          const chosen = { profile: c.profiles[0] ?? "main", videoBps: c.videoBps, audioBps: c.audioBps ?? 0 };
          const mode: Mode = { ...c, frameRates: [c.frameRate], maxLevel: "6.2" };
          const settings = baseSettings(sheet, mode, c.frameRate, protocol?.protocol ?? "rtmp", chosen);
          expect(checkSettings({ sheet, settings }).filter((f) => f.level === "blocks")).toEqual([]);
        }
      }
    }
  });
});

describe("a table of modes from a spreadsheet", () => {
  test("our own table reads back", () => {
    for (const { modes } of sheets) expect(readModesTable(writeModesTable(modes)).map((row) => row.mode)).toEqual(modes);
  });

  test.each([
    ["tabs without a first line, kb/s", "1920×1080\t25 30\t3000\t5800\t9000\n", [["1920x1080", "25,30", 3_000_000, 5_800_000, 9_000_000]]],
    [
      "a first line, units in it, decimal commas",
      "Resolution;fps;Recommended (Mb/s);Maximum (Mb/s)\n1280 x 720;29,97;2,5;4\n",
      [["1280x720", "30000/1001", 2_500_000, 2_500_000, 4_000_000]],
    ],
    [
      "sizes by their lines, units in the cells",
      "size,recommended bitrate\n1080p50,8.5 Mbps\n720p60,4400 kb/s\n",
      [
        ["1920x1080", "50", 8_500_000, 8_500_000, 8_500_000],
        ["1280x720", "60", 4_400_000, 4_400_000, 4_400_000],
      ],
    ],
    [
      "slashes between rates",
      "size\trates\tmax\n640x360\t24/25/30000/1001\t1500\n",
      [["640x360", "24,25,30000/1001", 1_500_000, undefined, 1_500_000]],
    ],
  ])("%s", (_name, text, expected) => {
    const rows = readModesTable(text);
    expect(rows.flatMap((r) => r.faults)).toEqual([]);
    expect(
      rows.map(
        ({ mode: m }) =>
          m &&
          [`${m.width}x${m.height}`, m.frameRates.join(), m.recommendedBps ?? m.minBps, m.recommendedBps, m.maxBps].map((v, i) =>
            i === 2 ? m.minBps : v,
          ),
      ),
    ).toEqual(expected.map(([size, rates, min, recommended, max]) => [size, rates, min, recommended, max]));
  });

  test("each row that cannot be read says why, with its line; the others are kept", () => {
    const text =
      "size\trates\tmin\trecommended\tmax\tcodec\n1920×1080\t25\t3000\t5800\t9000\tH.264\nwide\t25\t1\t2\t3\t\n1280×720\tfast\t1000\t2000\t3000\t\n1280×720\t25\t4000\t2000\t3000\t\n640×360\t25\tmuch\t\t\t\n640×360\t25\t\t\t\tVP\n";
    const rows = readModesTable(text);
    expect(rows.map((r) => [r.line, r.mode !== null])).toEqual([
      [2, true],
      [3, false],
      [4, false],
      [5, false],
      [6, false],
      [7, false],
    ]);
    expect(rows.map((r) => r.faults[0] ?? "")).toEqual([
      "",
      expect.stringContaining('"wide" is not a size'),
      expect.stringContaining('"fast" is not a frame rate'),
      expect.stringContaining("not in this order"),
      expect.stringContaining('"much" is not a bitrate'),
      expect.stringContaining("neither a recommended nor a maximum"),
    ]);
    expect(readModesTable("  \n")).toEqual([]);
  });

  test("whatever is pasted never throws, and what is taken passes the contract", () => {
    const cell = fc.oneof(
      fc.string({ maxLength: 12 }),
      fc.constantFrom("1920×1080", "720p", "25", "29.97", "5800", "4,5 Mb/s", "h264", "high", "4.1", "size", "fps", "max"),
    );
    const text = fc
      .array(
        fc.array(cell, { maxLength: 9 }).map((cells) => cells.join("\t")),
        { maxLength: 6 },
      )
      .map((lines) => lines.join("\n"));
    fc.assert(
      fc.property(text, (pasted) => {
        for (const row of readModesTable(pasted)) {
          if (row.mode) expect(modeSchema.safeParse(row.mode).error?.issues).toBeUndefined();
          else expect(row.faults.length).toBeGreaterThan(0);
        }
      }),
      { numRuns: 800 },
    );
  });
});
