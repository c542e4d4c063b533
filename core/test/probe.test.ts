import fc from "fast-check";
import { afterSlowStart, probeResult, readProbe, rfc3550JitterMs, secondsOf, writeProbe } from "../survey/probe";

describe("probes", () => {
  test("read back as they were written, at any length, and nothing else is taken for one", () => {
    const probe = fc.record({
      session: fc.string({ unit: fc.constantFrom(..."0123456789abcdef"), minLength: 16, maxLength: 16 }),
      number: fc.nat(4_294_967_295),
      sentMs: fc.double({ noNaN: true }),
      receivedMs: fc.double({ noNaN: true }),
      come: fc.nat(4_294_967_295),
    });
    fc.assert(fc.property(probe, fc.nat(300), (p, bytes) => expect(readProbe(writeProbe(p, bytes))).toEqual(p)));
    fc.assert(fc.property(fc.uint8Array({ maxLength: 60 }), (bytes) => void expect(() => readProbe(bytes)).not.toThrow()));
    expect(readProbe(new Uint8Array(60))).toBeNull();
  });

  test("jitter by hand (RFC 3550, 6.4.1): an even stream has none, one late datagram counts twice by a sixteenth", () => {
    const even = Array.from({ length: 10 }, (_, i) => ({ sentMs: i * 20, receivedMs: 1_000_007 + i * 20 }));
    expect(rfc3550JitterMs(even)).toBe(0);
    const late = even.slice(0, 3).map((p, i) => (i === 1 ? { ...p, receivedMs: p.receivedMs + 16 } : p));
    // J1 = 16/16 = 1; J2 = 1 + (16 − 1)/16 = 1.9375.
    expect(rfc3550JitterMs(late)).toBeCloseTo(1.9375, 10);
  });

  test("loss is what never arrived; an answer lost on its way back is none", () => {
    const echo = (number: number, come: number, rttMs: number) => ({
      session: "0".repeat(16),
      number,
      sentMs: number * 20,
      receivedMs: number * 20 + 5,
      come,
      backMs: number * 20 + rttMs,
    });
    expect(probeResult(10, [echo(0, 1, 12), echo(1, 2, 10), echo(9, 9, 30)])).toMatchObject({ rttMs: 12 });
    expect(probeResult(10, [echo(9, 9, 30)]).lossRatio).toBeCloseTo(0.1, 10);
    expect(probeResult(10, [])).toEqual({ rttMs: null, jitterMs: null, lossRatio: 1 });
  });
});

describe("seconds of an upload", () => {
  const reports = (bytesPerMs: number, fromMs: number, untilMs: number) =>
    Array.from({ length: (untilMs - fromMs) / 100 + 1 }, (_, i) => ({ ms: fromMs + i * 100, bytes: i * 100 * bytesPerMs }));

  test("all connections together, from the last that began to the first that ended", () => {
    expect(secondsOf([reports(500, 0, 5_000), reports(250, 400, 4_600)])).toEqual([6e6, 6e6, 6e6, 6e6]);
    expect(secondsOf([reports(500, 0, 900)])).toEqual([]);
    expect(secondsOf([reports(500, 0, 3_000), []])).toEqual([]);
  });

  test("slow start is left out: what climbs to nine tenths, the first second always, never more than two fifths", () => {
    expect(afterSlowStart([1, 4, 8, 10, 10, 10, 10, 10, 10, 10])).toEqual([10, 10, 10, 10, 10, 10, 10]);
    expect(afterSlowStart([10, 10, 10, 10])).toEqual([10, 10, 10]);
    expect([afterSlowStart([7]), afterSlowStart([])]).toEqual([[7], []]);
    expect(afterSlowStart([1, 2, 3, 4, 5, 6, 7, 8, 9, 10])).toHaveLength(6);
  });
});
