import { readFileSync } from "node:fs";
import { join } from "node:path";
import fc from "fast-check";
import { writeCsv } from "../formats/csv";
import { readMeasurements } from "../formats/measurements";
import { readTime } from "../formats/when";
import { ownIpBps } from "../survey/ownRate";

const zone = "Europe/London";
const read = (text: string) => readMeasurements(text, zone);
const file = (name: string) => readFileSync(join(__dirname, "fixtures", name), "utf8");
const faults = (text: string) => {
  const reading = read(text);
  return reading.ok ? [] : reading.faults;
};

describe("times", () => {
  test.each([
    ["2026-06-10 19:30", "2026-06-10T18:30:00.000Z"],
    ["2026-12-10 19:30", "2026-12-10T19:30:00.000Z"],
    ["2026-06-10T19:30:15+02:00", "2026-06-10T17:30:15.000Z"],
    ["2026-06-10T19:30:00Z", "2026-06-10T19:30:00.000Z"],
  ])("%s is %s", (text, iso) => {
    expect(new Date(readTime(text, zone) ?? 0).toISOString()).toBe(iso);
  });
  test.each(["", "19:30", "10.06.2026 19:30", "2026-06-31 19:30", "2026-13-01 10:00", "2026-06-10 25:00"])("%p is no time", (text) => {
    expect(readTime(text, zone)).toBeNull();
  });
});

describe("CSV", () => {
  test("with all columns", () => {
    const reading = read(
      "\uFEFFtime,rate_mbps,rtt_ms,jitter_ms,loss_pct\r\n2026-06-10 19:30,12.5,14,1.5,0.2\r\n\r\n2026-06-10 19:40,11,,,\r\n",
    );
    expect(reading).toMatchObject({
      ok: true,
      measurements: [
        { takenAt: "2026-06-10T18:30:00.000Z", rateBps: 12_500_000, rttMs: 14, jitterMs: 1.5, lossRatio: 0.002, layer: "ip" },
        { takenAt: "2026-06-10T18:40:00.000Z", rateBps: 11_000_000 },
      ],
    });
  });

  test("says which line is wrong and why, and takes nothing", () => {
    const found = faults(
      "time,rate_mbps\n2026-06-10 19:30,12\nyesterday,12\n2026-06-10 19:40,fast\n2026-06-10 19:50\n2026-06-10 19:55,0\n",
    );
    expect(found.map((f) => [f.line, f.column])).toEqual([
      [3, "time"],
      [4, "rate_mbps"],
      [5, null],
      [6, "rate_mbps"],
    ]);
    expect(found[0]?.message).toContain('"yesterday" is not a time');
    expect(faults('time,rate_mbps\n2026-06-10 19:40,"12,5"\n')[0]?.message).toContain("decimal with a point");
    expect(faults("date,speed\n1,2\n").map((f) => f.column)).toEqual(["time", "rate_mbps", "date", "speed"]);
    expect(faults("time,rate_mbps\n")[0]?.message).toContain("no measurement");
  });

  test("formulas do not run in the spreadsheet that opens what we write", () => {
    expect(writeCsv(["a"], [["=1+1"], [-3]])).toBe('a\r\n"\'=1+1"\r\n-3\r\n');
  });
});

describe("iperf3 -J, real files", () => {
  test("TCP: the receiver's rate counts, not the sender's", () => {
    const reading = read(file("chapel-tcp.json"));
    if (!reading.ok) throw new Error("not read");
    const [m] = reading.measurements;
    expect(m).toMatchObject({ rateBps: 11_462_115, layer: "tcp", floor: false, takenAt: "2026-11-23T11:27:15.000Z", rttMs: 15.219 });
    expect(m && ownIpBps(m)).toBeCloseTo((11_462_115 * 1500) / 1448, 0);
    expect(m?.seriesBps).toBeUndefined();
  });

  test("UDP: loss and jitter; one that lost nothing at a set rate is a floor", () => {
    const text = file("hall-udp.json");
    const reading = read(text);
    expect(reading).toMatchObject({
      ok: true,
      measurements: [{ layer: "udp", udpPayloadBytes: 32_768, floor: false, rateBps: 16_658_125 }],
    });
    const clean = JSON.parse(text);
    clean.end.sum_received.lost_percent = 0;
    expect(read(JSON.stringify(clean))).toMatchObject({ ok: true, measurements: [{ floor: true, lossRatio: 0 }] });
  });

  test.each([
    ["a broken file", (t: string) => t.slice(0, 900), /not whole JSON/],
    ["an interrupted run", () => '{"error":"interrupt - the client has terminated"}', /cut short/],
    ["a download", (t: string) => t.replace(/"reverse":\s*0/, '"reverse": 1'), /download/],
    ["another program's JSON", () => '{"hello":1}', /does not read as the output/],
    ["a run that got nothing", (t: string) => t.replace(/"sum_received"/, '"sum_lost"'), /receiver got nothing/],
  ])("%s is refused in words", (_name, change, message) => {
    const [fault] = faults(change(file("hall-tcp.json")));
    expect(fault?.message).toMatch(message);
  });
});

describe("whatever comes in", () => {
  test("never throws, and never half-reads", () => {
    const line = fc.oneof(fc.string(), fc.constant("time,rate_mbps"), fc.constant("2026-06-10 19:30,12"), fc.json());
    fc.assert(
      fc.property(fc.array(line, { maxLength: 12 }), fc.constantFrom("\n", "\r\n", "\r"), (lines, end) => {
        const reading = read(lines.join(end));
        expect(reading.ok ? reading.measurements.length : reading.faults.length).toBeGreaterThan(0);
        if (reading.ok) for (const m of reading.measurements) expect(m.rateBps).toBeGreaterThan(0);
      }),
      { numRuns: 500 },
    );
  });

  test("a damaged real file never throws", () => {
    const text = file("hall-tcp.json");
    fc.assert(
      fc.property(fc.nat(text.length), fc.nat(40), fc.string({ maxLength: 6 }), (at, length, put) => {
        const reading = read(text.slice(0, at) + put + text.slice(at + length));
        expect(typeof reading.ok).toBe("boolean");
      }),
      { numRuns: 400 },
    );
  });
});
