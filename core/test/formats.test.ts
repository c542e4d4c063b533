import { readFileSync } from "node:fs";
import { join } from "node:path";
import { type MeasurementInput, measurementInput, readMeasurementEntry } from "@ukaza/contract/survey";
import fc from "fast-check";
import { writeCsv } from "../formats/csv";
import { faultsIn, measurementsOf, type ReadingAnswers } from "../formats/fileReading";
import { readMeasurements } from "../formats/measurements";
import { measurementsToCsv, measurementsToFile } from "../formats/measurementsOut";
import { readNumber, styleOf } from "../formats/numbers";
import { readTime } from "../formats/when";
import { ownIpBps } from "../survey/ownRate";

const zone = "Europe/London";
const read = (text: string, more: Partial<ReadingAnswers> = {}) =>
  readMeasurements(text, { timeZone: zone, ...more }, readMeasurementEntry);
const file = (name: string) => readFileSync(join(__dirname, "fixtures", name), "utf8");
const taken = (text: string, more: Partial<ReadingAnswers> = {}) => measurementsOf(read(text, more));
const faults = (text: string, more: Partial<ReadingAnswers> = {}) => faultsIn(read(text, more));
const asked = (text: string) => read(text).questions.map((q) => q.ask);

describe("times", () => {
  test.each([
    ["2026-06-10 19:30", "2026-06-10T18:30:00.000Z"],
    ["2026-12-10 19:30", "2026-12-10T19:30:00.000Z"],
    ["2026-06-10T19:30:15+02:00", "2026-06-10T17:30:15.000Z"],
    ["2026-06-10T19:30:00Z", "2026-06-10T19:30:00.000Z"],
  ])("%s is %s", (text, iso) => {
    expect(new Date(readTime(text, zone) ?? 0).toISOString()).toBe(iso);
  });
  test.each(["", "19:30", "10/06/2026 19:30", "10.13.2026 19:30", "2026-06-31 19:30", "2026-13-01 10:00", "2026-06-10 25:00"])(
    "%p is no time",
    (text) => {
      expect(readTime(text, zone)).toBeNull();
    },
  );
});

describe("CSV", () => {
  test("with all columns", () => {
    const text = "\uFEFFtime,rate_mbps,rtt_ms,jitter_ms,loss_pct\r\n2026-06-10 19:30,12.5,14,1.5,0.2\r\n\r\n2026-06-10 19:40,11,,,\r\n";
    expect(taken(text)).toMatchObject([
      { takenAt: "2026-06-10T18:30:00.000Z", rateBps: 12_500_000, rttMs: 14, jitterMs: 1.5, lossRatio: 0.002, layer: "ip" },
      { takenAt: "2026-06-10T18:40:00.000Z", rateBps: 11_000_000 },
    ]);
  });

  // The same evening as six programs would have written it.
  test.each([
    ["points and commas", "Timestamp,Upload (Mbit/s),Ping\n2026-06-10 19:30,12.5,14\n"],
    ["semicolons and decimal commas", "Date/Time;Upload Mbps;Latency (ms)\n10.06.2026 19:30;12,5;14,0\n"],
    ["tabs, day and time apart", "Date\tTime\tup_kbps\trtt\n2026-06-10\t19:30\t12500\t14\n"],
    ["bars, bit/s, times of UTC", "time (UTC)|bandwidth bps|round trip\n2026-06-10 18:30|12500000|14\n"],
    ["half-day clock and quotes", '"when","rate Gb/s","ping (s)"\n"2026/06/10 7:30 pm","0.0125","0.014"\n'],
    ["seconds since 1970, thousands", "timestamp;throughput bit/s;ping\n1781116200;12.500.000;14\n"],
    ["a day over twelve tells the order", "time,rate kb/s,ping\n10/06/2026 19:30,12500,14\n13/06/2026 19:30,9000,15\n"],
  ])("%s", (_name, text) => {
    const reading = read(text);
    expect({ questions: reading.questions, faults: faultsIn(reading) }).toEqual({ questions: [], faults: [] });
    expect(measurementsOf(reading)[0]).toMatchObject({ takenAt: "2026-06-10T18:30:00.000Z", rateBps: 12_500_000, rttMs: 14 });
  });

  test("what may be read in two ways is asked, and read as answered", () => {
    const open = "time,upload,ping\n03/04/2026 19:30,12,14\n";
    expect(asked(open)).toEqual(["dateOrder", "rateUnit"]);
    expect(read(open).questions[0]?.example).toBe("03/04/2026 19:30");
    expect(taken(open, { dateOrder: "mdy", rateUnit: "Mb/s" })[0]).toMatchObject({ takenAt: "2026-03-04T19:30:00.000Z", rateBps: 12e6 });
    expect(taken(open, { dateOrder: "dmy", rateUnit: "kb/s" })[0]).toMatchObject({ takenAt: "2026-04-03T18:30:00.000Z", rateBps: 12e3 });
    const grouped = "time;rate kb/s\n2026-06-10 19:30;1.234\n";
    expect(asked(grouped)).toEqual(["decimal"]);
    expect(taken(grouped, { decimal: "comma" })[0]?.rateBps).toBe(1_234_000);
    expect(taken(grouped, { decimal: "point" })[0]?.rateBps).toBe(1_234);
    expect(taken("time,rate_mbps\n2026-06-10 19:30,11.234\n")[0]?.rateBps).toBe(11_234_000);
    // A capital B is bytes to some and bits to others.
    expect(asked("time,upload MB/s\n2026-06-10 19:30,12\n")).toEqual(["rateUnit"]);
  });

  test("each line gets its own verdict; the good ones are kept", () => {
    const text =
      "time,rate_mbps\n2026-06-10 19:30,12\nyesterday,12\n2026-06-10 19:40,fast\n2026-06-10 19:50\n2026-06-10 19:55,0\n2026-02-30 19:00,3\n2026-06-10 20:00,\n";
    expect(faults(text).map((f) => [f.line, f.column])).toEqual([
      [3, "time"],
      [4, "rate_mbps"],
      [5, null],
      [6, "rate_mbps"],
      [7, "time"],
      [8, "rate_mbps"],
    ]);
    expect(faults(text)[0]?.message).toContain('"yesterday" is not a time');
    expect(faults(text)[4]?.message).toContain("not in the calendar");
    expect(taken(text)).toHaveLength(1);
  });

  test.each([
    ["no time", "when it was,rate_mbps\n1,2\n", /no column for the time; it reads "when it was, rate_mbps"/],
    ["no rate", "time,download_mbps\n2026-06-10 19:30,2\n", /no column for the upload rate/],
    ["a column twice", "time,rate_mbps,upload kb/s\n2026-06-10 19:30,2,2000\n", /two columns give the rate/],
    ["nothing below the first line", "time,rate_mbps\n", /no measurement below the first line/],
    ["an empty file", " \n ", /the file is empty/],
    ["too long", `time,rate_mbps\n${"x".repeat(20_000_001)}`, /at most 20 are read/],
  ])("a file with %s is refused as a whole", (_name, text, message) => {
    const [fault] = faults(text);
    expect(fault).toMatchObject({ line: null });
    expect(fault?.message).toMatch(message);
    expect(taken(text)).toEqual([]);
  });

  test("columns that mean nothing here are named and passed over", () => {
    expect(read("time,server,rate_mbps,download_mbps\n2026-06-10 19:30,north,12,90\n").ignored).toEqual(["server", "download_mbps"]);
  });

  test("the night the clock goes back: taken as the first, and said; the hour that spring skips is refused", () => {
    const autumn = read("time,rate_mbps\n2026-10-25 01:30,12\n2026-10-25 03:30,12\n");
    expect(autumn.rows.map((row) => row.measurement && [row.measurement.takenAt, row.remark])).toEqual([
      ["2026-10-25T00:30:00.000Z", "this clock time came twice that night; taken as the first"],
      ["2026-10-25T03:30:00.000Z", null],
    ]);
    expect(faults("time,rate_mbps\n2026-03-29 01:30,12\n")[0]?.message).toContain("did not exist on that day");
    expect(taken("time,rate_mbps\n2026-10-25 01:30,12\n", { timeZone: "America/New_York" })[0]?.takenAt).toBe("2026-10-25T05:30:00.000Z");
  });

  test("formulas do not run in the spreadsheet that opens what we write", () => {
    expect(writeCsv(["a"], [["=1+1"], [-3]])).toBe('a\r\n"\'=1+1"\r\n-3\r\n');
  });
});

describe("numbers", () => {
  test.each([
    ["12,5", "comma", 12.5],
    ["1 234,5", "comma", 1234.5],
    ["1.234.567,8", "comma", 1_234_567.8],
    ["1,234,567.8", "point", 1_234_567.8],
    ["1'234.5", "point", 1234.5],
    ["1e3", "point", 1000],
    ["12,34,5", "point", Number.NaN],
    ["1.2.3", "point", Number.NaN],
    ["Infinity", "point", Number.NaN],
    ["0x10", "point", Number.NaN],
    ["", "point", Number.NaN],
  ] as const)("%p with a decimal %s", (text, style, value) => {
    expect(readNumber(text, style)).toBe(value);
  });
  test.each([
    ["12,5", "comma"],
    ["12.5", "point"],
    ["1,234", "open"],
    ["0,234", "comma"],
    ["1,234.5", "point"],
    ["1.234.567", "comma"],
    ["1234", null],
  ] as const)("%p shows its style: %p", (text, style) => {
    expect(styleOf(text)).toBe(style);
  });
});

describe("iperf3 -J, real files", () => {
  test("TCP: the receiver's rate counts, not the sender's", () => {
    const [m] = taken(file("chapel-tcp.json"));
    expect(m).toMatchObject({ rateBps: 11_462_115, layer: "tcp", floor: false, takenAt: "2026-11-23T11:27:15.000Z", rttMs: 15.219 });
    expect(m && ownIpBps(m)).toBeCloseTo((11_462_115 * 1500) / 1448, 0);
    expect(m?.seriesBps).toBeUndefined();
  });

  test("UDP: loss and jitter; one that lost nothing at a set rate is a floor, in newer and older files", () => {
    const text = file("hall-udp.json");
    expect(taken(text)).toMatchObject([{ layer: "udp", udpPayloadBytes: 32_768, floor: false, rateBps: 16_658_125 }]);
    const clean = JSON.parse(text);
    clean.end.sum_received.lost_percent = 0;
    expect(read(JSON.stringify(clean)).rows[0]).toMatchObject({
      measurement: { floor: true, lossRatio: 0 },
      remark: expect.stringContaining("at least"),
    });
    const older = JSON.parse(text);
    const { bits_per_second } = older.end.sum;
    delete older.end.sum_received;
    older.end.sum.lost_percent = 10;
    expect(taken(JSON.stringify(older))[0]).toMatchObject({ rateBps: Math.round(bits_per_second * 0.9), lossRatio: 0.1 });
  });

  test("in reverse: asked where the client stood; at the far end it received, so its seconds are kept", () => {
    const reversed = file("hall-tcp.json").replace(/"reverse":\s*0/, '"reverse": 1');
    expect(asked(reversed)).toEqual(["clientAt"]);
    expect(faults(reversed, { clientAt: "venue" })[0]?.message).toMatch(/download; run it without -R/);
    const [m] = taken(reversed, { clientAt: "far end" });
    expect(m?.seriesBps?.length).toBe(JSON.parse(reversed).intervals.length);
    expect(faults(file("hall-tcp.json"), { clientAt: "far end" })[0]?.message).toMatch(/download; run it with -R/);
  });

  test("several streams count together; seconds before the start are left out", () => {
    const json = JSON.parse(file("hall-tcp.json"));
    const [stream] = json.intervals[0].streams;
    json.intervals[0].streams = [stream, { ...stream, rtt: 2_500 }];
    json.start.test_start.omit = 3;
    const [m] = taken(JSON.stringify(json));
    expect(m).toMatchObject({ rttMs: 2.5, rateBps: Math.round(json.end.sum_received.bits_per_second) });
    expect(Date.parse(m?.takenAt ?? "")).toBe((json.start.timestamp.timesecs + 3) * 1000);
  });

  test("runs written one after the other in a file are read one by one", () => {
    const cut = '{"error":"interrupt - the client has terminated"}';
    const reading = read(`${file("hall-tcp.json")}\n${cut}\n${file("chapel-tcp.json")}`);
    expect(reading.rows.map((row) => row.measurement !== null)).toEqual([true, false, true]);
    expect(faultsIn(reading)).toMatchObject([{ line: 2, message: expect.stringContaining("cut short") }]);
  });

  test.each([
    ["a broken file", (t: string) => t.slice(0, 900), /not whole JSON/],
    ["an interrupted run", (t: string) => t.replace('"start"', '"error": "interrupt - the client has terminated", "start"'), /cut short/],
    ["another program's JSON", () => '{"hello":1}', /does not read as the output/],
    ["a list", () => "[1, 2]", /does not read as the output/],
    ["a run that got nothing", (t: string) => t.replace(/"sum_received"/, '"sum_lost"'), /receiver got nothing/],
    ["a negative rate", (t: string) => t.replace(/"bits_per_second":\s*\d/g, '"bits_per_second": -1'), /does not read as the output/],
    ["a time far off", (t: string) => t.replace(/"timesecs":\s*\d+/, '"timesecs": 1e300'), /timesecs/],
  ])("%s is refused in words", (_name, change, message) => {
    const [fault] = faults(change(file("hall-tcp.json")));
    expect(fault?.message).toMatch(message);
  });
});

describe("our own export", () => {
  const entry: fc.Arbitrary<MeasurementInput> = fc
    .record({
      takenAt: fc.date({ min: new Date("2020-01-01"), max: new Date("2030-01-01"), noInvalidDate: true }).map((d) => d.toISOString()),
      durationS: fc.double({ min: 0, max: 86_400, noNaN: true }),
      rateBps: fc.integer({ min: 1, max: 10_000_000_000 }),
      layer: fc.constantFrom("ip", "tcp", "udp" as const),
      floor: fc.boolean(),
      source: fc.constantFrom("by hand", "csv", "iperf3", "built-in test", "test of the stand-in line" as const),
      more: fc.record(
        {
          udpPayloadBytes: fc.integer({ min: 1, max: 65_507 }),
          seriesBps: fc.array(fc.integer({ min: 0, max: 10_000_000_000 }), { minLength: 1, maxLength: 5 }),
          rttMs: fc.double({ min: 0, max: 60_000, noNaN: true }),
          jitterMs: fc.double({ min: 0, max: 60_000, noNaN: true }),
          lossRatio: fc.double({ min: 0, max: 1, noNaN: true }),
          excluded: fc.constantFrom("door of the van was shut", '=1+1, "quoted"; it rained', "modem on charge"),
        },
        { requiredKeys: [] },
      ),
    })
    // JSON and CSV know no negative zero.
    .map(({ more, ...rest }) => JSON.parse(JSON.stringify({ ...rest, ...more })) as MeasurementInput);

  test("reads back as the same measurements, as CSV and as JSON", () => {
    fc.assert(
      fc.property(fc.array(entry, { minLength: 1, maxLength: 8 }), (measurements) => {
        expect(taken(measurementsToCsv(measurements))).toEqual(measurements);
        const numbered = measurements.map((m, i) => ({ ...m, id: `m-${i}`, uplinkId: "line" }));
        expect(taken(JSON.stringify(measurementsToFile("Hall fibre", numbered)))).toEqual(measurements);
      }),
      { numRuns: 200 },
    );
  });

  test("a wrong entry is named by its number", () => {
    const text = '{"format":"ukaza-measurements","version":1,"uplink":"Hall","measurements":[{"rateBps":-4}]}';
    expect(faults(text)[0]).toMatchObject({ line: 1, column: expect.stringMatching(/takenAt|rateBps/) });
    expect(faults('{"format":"ukaza-measurements","version":9,"measurements":[]}')[0]?.message).toContain("version");
    expect(faults('{"format":"ukaza-measurements","version":1,"measurements":[')[0]?.message).toContain("not whole JSON");
  });
});

describe("whatever comes in", () => {
  test("never throws, gives whole measurements or faults, and every one passes the contract", () => {
    const cell = fc.oneof(
      fc.string(),
      fc.constantFrom(
        "time",
        "rate_mbps",
        "2026-06-10 19:30",
        "03/04/2026 1:00",
        "12,5",
        "1.234",
        '"',
        ";",
        "\t",
        "-1",
        "1e999",
        "ping (ms)",
        "__proto__",
      ),
    );
    const line = fc.array(cell, { maxLength: 5 }).chain((cells) => fc.constantFrom(",", ";", "\t").map((mark) => cells.join(mark)));
    const text = fc.oneof(
      fc.array(line, { maxLength: 8 }).map((lines) => lines.join("\n")),
      fc.array(line, { maxLength: 8 }).map((lines) => ["time,rate_mbps,ping", ...lines].join("\n")),
      fc.json(),
      fc.tuple(fc.nat({ max: 4_000 }), fc.nat({ max: 4_000 }), fc.string()).map(([from, length, between]) => {
        const whole = file("hall-udp.json");
        return whole.slice(0, from) + between + whole.slice(from + length);
      }),
    );
    const answers = fc.record(
      {
        dateOrder: fc.constantFrom("dmy", "mdy" as const),
        decimal: fc.constantFrom("point", "comma" as const),
        rateUnit: fc.constantFrom("Mb/s", "kb/s" as const),
      },
      { requiredKeys: [] },
    );
    fc.assert(
      fc.property(text, answers, (input, given) => {
        const reading = read(input, given);
        expect(reading.questions.length + reading.rows.length + reading.faults.length).toBeGreaterThan(0);
        for (const m of measurementsOf(reading)) expect(measurementInput.safeParse(m).error?.issues).toBeUndefined();
        for (const fault of faultsIn(reading)) expect(fault.message.length).toBeGreaterThan(5);
      }),
      { numRuns: 1_500 },
    );
  });
});
