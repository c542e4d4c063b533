import type { Health, Sample, Verdict } from "@ukaza/contract/air";
import { failoverPolicy } from "@ukaza/contract/event";
import fc from "fast-check";
import { failoverStep, onMain, switchByHand } from "../air/failover";
import { type FeedHealth, feedHealthStep, newFeedHealth } from "../air/feedHealth";
import { compareHealth, heldFrom, hold } from "../air/hysteresis";
import { incidentStep } from "../air/incidents";
import { sendQueueStep } from "../air/sendQueue";
import { goodSample } from "./kit";

const t0 = Date.parse("2026-06-10T19:00:00Z");
const at = (s: number) => new Date(t0 + s * 1000).toISOString();
const good = (s: number, more: Partial<Sample> = {}): Sample => goodSample("f", at(s), more);
const nobody = {
  sentBps: null,
  receivedBps: null,
  framesEncoded: null,
  framesDropped: null,
  encoderLoad: null,
  queueMs: null,
  rttMs: null,
  keyframeS: null,
  audioDb: null,
  pictureChange: null,
  platform: null,
};
const context = { lineupRttMs: 20, keyframe: { minS: 1, maxS: 4 } };
const alone = { sameUplink: [], samePlatformOtherUplink: [] };

/** Ten good seconds, then the given ones. */
function after(samples: Partial<Sample>[], siblings: { sameUplink: Health[]; samePlatformOtherUplink: Health[] } = alone): FeedHealth {
  let state = newFeedHealth("f", at(0));
  for (let s = 0; s < 10; s++) state = feedHealthStep(state, good(s), context, alone, at(s));
  samples.forEach((part, i) => {
    state = feedHealthStep(state, good(10 + i, part), context, siblings, at(10 + i));
  });
  return state;
}
const times = (n: number, part: Partial<Sample>) => Array.from({ length: n }, () => part);

describe("health of a feed", () => {
  test("is believed at the first word and steady while all is well", () => {
    expect(feedHealthStep(newFeedHealth("f", at(0)), good(0), context, alone, at(0)).verdict.health).toBe("steady");
    expect(after([]).verdict).toMatchObject({ health: "steady", cause: null, evidence: [] });
  });

  test.each<[string, Partial<Sample>, number, Health, string]>([
    ["a bitrate under 90 %", { sentBps: 4e6 }, 8, "strained", "sent-low"],
    ["a bitrate under 50 %", { sentBps: 1e6 }, 10, "broken", "sent-low"],
    ["frames dropped over 1 %", { framesDropped: 1 }, 6, "strained", "dropped"],
    ["frames dropped over 10 %", { framesDropped: 5 }, 6, "broken", "dropped"],
    ["a queue over 1 s", { queueMs: 1500 }, 3, "strained", "queue"],
    ["a queue over 5 s", { queueMs: 6000 }, 3, "broken", "queue"],
    ["a round trip over three times the line-up's", { rttMs: 90 }, 8, "strained", "round-trip"],
    ["a keyframe interval outside the sheet's", { keyframeS: 6 }, 3, "strained", "keyframe"],
    ["a refusal", { platform: "refused" }, 3, "broken", "refused"],
    ["a still picture without sound", { pictureChange: 0, audioDb: -90 }, 13, "broken", "no-picture"],
    ["nothing heard", nobody, 8, "silent", "not-heard"],
  ])("%s", (_name, part, seconds, health, sign) => {
    const { verdict } = after(times(seconds, part));
    expect(verdict.health).toBe(health);
    expect(verdict.evidence.map((e) => e.sign)).toContain(sign);
  });

  test("a still picture with sound is no fault: a slide may stand for minutes", () => {
    expect(after(times(20, { pictureChange: 0 })).verdict.health).toBe("steady");
  });

  test("worse after two samples in a row, better only after ten", () => {
    expect(after(times(1, { queueMs: 1500 })).verdict.health).toBe("steady");
    expect(after(times(2, { queueMs: 1500 })).verdict.health).toBe("strained");
    expect(after([...times(2, { queueMs: 1500 }), ...times(9, {})]).verdict.health).toBe("strained");
    expect(after([...times(2, { queueMs: 1500 }), ...times(10, {})]).verdict.health).toBe("steady");
  });

  test("a signal on a boundary never flaps", () => {
    fc.assert(
      fc.property(fc.array(fc.boolean(), { minLength: 30, maxLength: 200 }), (signal) => {
        let held = heldFrom("steady", at(0));
        const entered: number[] = [];
        signal.forEach((bad, s) => {
          const next = hold(held, bad ? "strained" : "steady", at(s));
          if (next.health !== held.health) entered.push(s);
          if (next.health === "steady" && held.health === "strained") expect(signal.slice(s - 9, s + 1)).toEqual(Array(10).fill(false));
          if (next.health === "strained" && held.health === "steady") expect(signal.slice(s - 1, s + 1)).toEqual([true, true]);
          held = next;
        });
        // Two changes for the better lie at least twelve seconds apart, so nobody sees a flicker.
        for (let i = 2; i < entered.length; i++) expect((entered[i] ?? 0) - (entered[i - 2] ?? 0)).toBeGreaterThanOrEqual(12);
      }),
    );
    let held = heldFrom("steady", at(0));
    let changes = 0;
    for (let s = 0; s < 300; s++) {
      const next = hold(held, s % 2 === 0 ? "strained" : "steady", at(s));
      if (next.health !== held.health) changes++;
      held = next;
    }
    expect(changes).toBe(0);
  });

  test("the cause: source, encoder, uplink, platform, with the signs for it", () => {
    const cause = (seconds: number, part: Partial<Sample>, siblings = alone as Parameters<typeof after>[1]) =>
      after(times(seconds, part), siblings).verdict;
    expect(cause(12, { pictureChange: 0, audioDb: -90 }).cause).toBe("source");
    expect(cause(8, { framesEncoded: 15, sentBps: 3e6 }).cause).toBe("encoder");
    expect(cause(8, { encoderLoad: 0.99, sentBps: 4e6 }).cause).toBe("encoder");
    expect(
      cause(8, { queueMs: 3000, sentBps: 3e6, retransmittedShare: 0.1 }, { sameUplink: ["strained"], samePlatformOtherUplink: ["steady"] }),
    ).toMatchObject({
      cause: "uplink",
      evidence: expect.arrayContaining([
        expect.objectContaining({ sign: "siblings-suffer" }),
        expect.objectContaining({ sign: "siblings-fine" }),
      ]),
    });
    expect(cause(4, { platform: "refused" }).cause).toBe("platform");
    expect(cause(4, { rttMs: 100 }).cause).toBe("uplink");
  });
});

describe("failover", () => {
  const policy = failoverPolicy.parse({});
  interface Step {
    main: Health;
    backup: Health | null;
  }
  /** Runs second by second with each side's health held since it last changed. */
  function run(steps: Step[], rules = policy) {
    let state = onMain;
    const since = { main: t0, backup: t0 };
    const decisions: { s: number; kind: string; to: string; reason: string; from: Health | null; toHealth: Health | null }[] = [];
    steps.forEach((step, s) => {
      const nowMs = t0 + s * 1000;
      const before = steps[s - 1];
      if (before && before.main !== step.main) since.main = nowMs;
      if (before && before.backup !== step.backup) since.backup = nowMs;
      const active = state.active;
      const result = failoverStep(
        state,
        {
          nowMs,
          main: { health: step.main, sinceMs: since.main },
          backup: step.backup ? { health: step.backup, sinceMs: since.backup } : null,
        },
        rules,
      );
      state = result.state;
      if (result.decision)
        decisions.push({
          s,
          kind: result.decision.kind,
          to: result.decision.to,
          reason: result.decision.reason,
          from: active === "main" ? step.main : step.backup,
          toHealth: result.decision.to === "main" ? step.main : step.backup,
        });
    });
    return { state, decisions };
  }
  const stay = (n: number, main: Health, backup: Health | null): Step[] => Array.from({ length: n }, () => ({ main, backup }));

  test("switches when main has been broken for five seconds and backup is steady", () => {
    const { decisions } = run([...stay(10, "steady", "steady"), ...stay(10, "broken", "steady")]);
    expect(decisions).toMatchObject([{ s: 15, kind: "switch", to: "backup", reason: "main-broken" }]);
  });

  test("strained alone never switches; without a better feed it calls the technician once", () => {
    expect(run(stay(100, "strained", "steady")).decisions).toEqual([]);
    expect(run([...stay(5, "steady", "broken"), ...stay(60, "silent", "broken")]).decisions).toMatchObject([
      { kind: "call", reason: "no-better-feed" },
    ]);
    expect(run([...stay(5, "steady", null), ...stay(60, "broken", null)]).decisions).toMatchObject([
      { kind: "call", reason: "no-better-feed" },
    ]);
  });

  test("returns only after 120 s of a steady main: by hand, unless the policy says auto", () => {
    const course = [...stay(10, "steady", "steady"), ...stay(10, "broken", "steady"), ...stay(200, "steady", "steady")];
    expect(run(course).decisions.slice(1)).toMatchObject([{ s: 140, kind: "advise", reason: "return-by-hand" }]);
    expect(run(course, { ...policy, returnAuto: true }).decisions.slice(1)).toMatchObject([
      { s: 140, kind: "switch", to: "main", reason: "main-steady-again" },
    ]);
  });

  test("with automatic switching off it only advises", () => {
    expect(run([...stay(2, "steady", "steady"), ...stay(30, "broken", "steady")], { ...policy, auto: false }).decisions).toMatchObject([
      { kind: "advise", to: "backup", reason: "main-broken" },
    ]);
  });

  test("by hand is obeyed and does not count", () => {
    const { state, decision } = switchByHand(onMain, "backup", 3);
    expect(decision).toMatchObject({ kind: "switch", from: "main", to: "backup", reason: "by-hand", gapS: 3 });
    expect(state.autoSwitchesMs).toEqual([]);
  });

  test("never exceeds its limit of switches, and never picks a feed that is not better", () => {
    const health = fc.constantFrom<Health>("steady", "strained", "broken", "silent");
    const stretch = fc.record({ main: health, backup: health, seconds: fc.integer({ min: 1, max: 60 }) });
    fc.assert(
      fc.property(fc.array(stretch, { minLength: 5, maxLength: 40 }), fc.boolean(), (stretches, returnAuto) => {
        const { decisions } = run(
          stretches.flatMap(({ main, backup, seconds }) => stay(seconds, main, backup)),
          { ...policy, returnAuto, steadyForS: 20 },
        );
        const switches = decisions.filter((d) => d.kind === "switch");
        for (const d of switches) {
          expect(d.toHealth).toBe("steady");
          if (d.reason !== "main-steady-again") expect(compareHealth(d.toHealth ?? "silent", d.from ?? "silent")).toBeLessThan(0);
          expect(switches.filter((other) => other.s > d.s - policy.withinS && other.s <= d.s).length).toBeLessThanOrEqual(
            policy.maxSwitches,
          );
        }
      }),
    );
  });
});

describe("incidents and the send queue", () => {
  const verdict = (health: Health, s: number): Verdict => ({
    feedId: "f",
    health,
    since: at(s),
    cause: health === "steady" ? null : "uplink",
    evidence: [],
  });

  test("an incident opens, keeps the worst, and closes when the viewers' feed is steady", () => {
    const opened = incidentStep(null, verdict("strained", 5), "d", null, at(6));
    expect(opened).toMatchObject({ startedAt: at(5), worst: "strained", cause: "uplink", endedAt: null });
    const worse = incidentStep(opened, verdict("broken", 8), "d", null, at(9));
    const better = incidentStep(worse, verdict("strained", 12), "d", null, at(13));
    expect(better).toMatchObject({ worst: "broken", endedAt: null });
    expect(incidentStep(better, verdict("steady", 20), "d", null, at(21))).toMatchObject({ worst: "broken", endedAt: at(21) });
    expect(incidentStep(null, verdict("steady", 1), "d", null, at(2))).toBeNull();
  });

  test("nothing is lost or made up in the queue", () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 3_000 }), { maxLength: 60 }), (carried) => {
        let queue = { queuedBits: 0 };
        for (const bits of carried) {
          const before = queue.queuedBits;
          const second = sendQueueStep(queue, 1_000, bits, 25);
          const dropped = (second.droppedFrames / 25) * 1_000;
          expect(second.sentBits + second.queue.queuedBits + dropped).toBeCloseTo(before + 1_000, 6);
          expect(second.queueMs).toBeLessThanOrEqual(6_000);
          queue = second.queue;
        }
      }),
    );
  });
});
