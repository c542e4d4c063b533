import { event as eventSchema } from "@ukaza/contract/event";
import type { LineupFacts, StepId } from "@ukaza/contract/lineup";
import type { Broadcast } from "@ukaza/contract/standins";
import { advanceFacts } from "../lineup/advance";
import { broadcastStateOf, stagesOf } from "../lineup/progress";
import { noFacts, runSheet } from "../lineup/runSheet";
import { makeReport, type ReportInput } from "../wrap/report";
import { reportCsv } from "../wrap/reportCsv";
import { goodSample, oriel, settings } from "./kit";

const t = (s: number) => new Date(Date.parse("2026-06-10T18:00:00Z") + s * 1000).toISOString();
const lifecycle = oriel.lifecycle;
const states = (facts: Partial<LineupFacts>, now = t(1000), cycle = lifecycle) =>
  Object.fromEntries(runSheet("d", cycle, { ...noFacts, ...facts }, now).steps.map((s) => [s.id, s.state])) as Record<StepId, string>;

describe("run sheet", () => {
  test("nothing goes before the encoder holds what it was told", () => {
    expect(states({}).send).toBe("locked");
    expect(states({ configured: true })).toMatchObject({ send: "ready", receive: "locked", public: "locked" });
  });

  test("each step waits for those it needs", () => {
    const sent = { configured: true, sendingAt: t(0) };
    expect(states(sent, t(5))).toMatchObject({ send: "done", receive: "waiting", verdict: "locked" });
    expect(states(sent, t(16)).receive).toBe("late");
    const judged = { ...sent, receivingAt: t(3), verdictAt: t(8), verdict: "good" as const };
    expect(states(judged, t(20))).toMatchObject({ preview: "waiting", watch: "locked", public: "locked" });
    expect(states({ ...judged, previewAt: t(28) })).toMatchObject({ watch: "ready", public: "locked" });
    expect(states({ ...judged, previewAt: t(28), watchedAt: t(40) }).public).toBe("ready");
    expect(states({ ...sent, receivingAt: t(3), verdict: "refused" }).verdict).toBe("failed");
  });

  test("the order of the end is the platform's", () => {
    const onAir = {
      configured: true,
      sendingAt: t(0),
      receivingAt: t(3),
      verdictAt: t(8),
      verdict: "good" as const,
      previewAt: t(28),
      watchedAt: t(40),
      publicAt: t(60),
    };
    expect(states(onAir)).toMatchObject({ end: "ready", stop: "locked" });
    expect(states(onAir, t(1000), { ...lifecycle, endsFirst: "encoder" })).toMatchObject({ end: "locked", stop: "ready" });
    expect(states({ ...onAir, endedAt: t(900) })).toMatchObject({ end: "done", stop: "ready" });
  });

  test("a platform without preview has no such steps; what freezes stands at its step", () => {
    const plain = runSheet("d", { ...lifecycle, preview: null }, noFacts, t(0));
    expect(plain.steps.map((s) => s.id)).toEqual(["send", "receive", "verdict", "public", "end", "stop"]);
    expect(plain.steps.find((s) => s.id === "public")?.needs).toEqual(["verdict"]);
    const own = runSheet("d", lifecycle, noFacts, t(0));
    expect(own.steps.find((s) => s.id === "preview")?.freezes).toEqual(["codec", "size", "frameRate"]);
    expect(own.steps.filter((s) => s.irreversible).map((s) => s.id)).toEqual(["public", "end"]);
  });

  const seen = (more: Partial<Broadcast> = {}, verdict: Broadcast["ingests"][number]["verdict"] = null): Broadcast => ({
    id: "b",
    state: "receiving",
    source: "main",
    previewReady: false,
    publicAt: null,
    endedAt: null,
    ingests: [{ role: "main", receiving: true, receivedBps: 5e6, heardAt: t(2), verdict, reason: null, received: null }],
    costSoFar: null,
    ...more,
  });

  test("a platform that nothing reaches takes no step by itself: a person does", () => {
    const facts = { ...noFacts, configured: true, sendingAt: t(0) };
    const step = (more: object, id: string) =>
      runSheet("d", oriel.lifecycle, { ...facts, ...more }, t(500), true).steps.find((s) => s.id === id);
    expect(step({}, "receive")).toMatchObject({ state: "ready", actor: "person", waitingSince: null });
    expect(step({}, "verdict")).toMatchObject({ state: "locked" });
    expect(step({ receivingAt: t(3) }, "verdict")).toMatchObject({ state: "ready", actor: "person" });
    expect(step({}, "send")).toMatchObject({ actor: "encoder" });
  });

  test("facts follow what the platform says, and each step is told once", () => {
    const sent = { ...noFacts, configured: true, sendingAt: t(0) };
    expect(advanceFacts(noFacts, seen(), t(2)).done).toEqual([]);
    const heard = advanceFacts(sent, seen(), t(2));
    expect(heard.done).toEqual(["receive"]);
    const judged = advanceFacts(heard.facts, seen({ previewReady: true }, "good"), t(9));
    expect(judged.done).toEqual(["verdict", "preview"]);
    expect(advanceFacts(judged.facts, seen({ previewReady: true }, "good"), t(10)).done).toEqual([]);
    expect(advanceFacts(heard.facts, seen({}, "refused"), t(9))).toMatchObject({
      done: [],
      facts: { verdict: "refused", verdictAt: null },
    });
    expect(advanceFacts(judged.facts, seen({ publicAt: t(50), endedAt: t(90) }, "good"), t(91)).done).toEqual(["public", "end"]);
  });

  test("stages and the four broadcast states follow from the facts", () => {
    const base = { measured: true, fitChosen: true, broadcastCreated: true, readBackEqual: true, facts: noFacts, incidentOpen: false };
    expect(stagesOf({ ...base, measured: false }).next).toBe("survey");
    expect(stagesOf({ ...base, fitChosen: false }).next).toBe("fit");
    expect(stagesOf({ ...base, readBackEqual: false })).toMatchObject({ next: "rig", stages: { rig: "needs you" } });
    const onAir = { ...noFacts, sendingAt: t(0), publicAt: t(1) };
    expect(stagesOf({ ...base, facts: onAir, incidentOpen: true })).toMatchObject({
      next: "air",
      stages: { lineup: "done", air: "needs you" },
    });
    expect(stagesOf({ ...base, facts: { ...onAir, endedAt: t(2) } }).next).toBe("wrap");
    expect([noFacts, { ...noFacts, sendingAt: t(0) }, onAir, { ...onAir, endedAt: t(2) }].map(broadcastStateOf)).toEqual([
      "off",
      "sending",
      "public",
      "ended",
    ]);
  });
});

describe("report", () => {
  const event = eventSchema.parse({
    format: "ukaza-event",
    version: 1,
    id: "e",
    name: "=Concert",
    venueId: "v",
    timeZone: "Europe/London",
    show: { start: t(0), end: t(100) },
    source: { width: 1920, height: 1080, frameRate: "25", scan: "progressive" },
    content: "stage",
    encoderIds: ["k"],
    destinations: [{ id: "d", platformId: "p", title: "T", access: "public" }],
  });
  const feed = (role: "main" | "backup") => ({
    id: role,
    role,
    destinationId: "d",
    encoderId: "k",
    uplinkId: "u",
    targetBps: 5_128_000,
    settings,
    uplinkName: "Line",
  });
  const sample = (feedId: string, s: number, sentBps: number) =>
    goodSample(feedId, t(s), { targetBps: 5_128_000, sentBps, receivedBps: sentBps });
  const input: ReportInput = {
    event,
    venueName: "Hall",
    standins: true,
    facts: { ...noFacts, publicAt: t(0), endedAt: t(100), stoppedAt: t(110) },
    feeds: [feed("main"), feed("backup")],
    samples: Array.from({ length: 90 }, (_, s) => [sample("main", s, s < 45 ? 5_128_000 : 0), sample("backup", s, 5_128_000)]).flat(),
    sampleStepS: 1,
    health: [
      { feedId: "main", at: t(-20), health: "steady" },
      { feedId: "backup", at: t(-20), health: "steady" },
      { feedId: "main", at: t(40), health: "strained" },
      { feedId: "main", at: t(50), health: "broken" },
    ],
    active: [
      { from: t(0), role: "main" },
      { from: t(60), role: "backup" },
    ],
    incidents: [],
    log: [],
    now: t(200),
  };

  test("adds up by hand: 40 s steady, 10 strained, 10 broken, then 40 steady on the backup", () => {
    const report = makeReport(input);
    expect(report.secondsBy).toEqual({ steady: 80, strained: 10, broken: 10, silent: 0 });
    expect(report.availability).toBeCloseTo(0.9, 9);
    expect(report.actual.seconds).toBe(100);
    expect(report.unsampledS).toBe(10);
    const [main, backup] = report.feeds;
    expect(main).toMatchObject({ meanSentBps: 2_564_000, lowestSentBps: 0, samples: 90 });
    // 90 s at the load of 5.45 Mb/s at the IP layer.
    expect(backup?.sentBytes).toBe(Math.round(((90 * 5_128_000) / 8) * (5_319_976 / 5_128_000)));
  });

  test("a time without any verdict counts against availability; before public there is none", () => {
    expect(makeReport({ ...input, health: [] }).availability).toBe(0);
    expect(makeReport({ ...input, facts: noFacts })).toMatchObject({ availability: null, actual: { seconds: 0 } });
  });

  test("charts are thinned to what a screen shows, and the CSV holds every figure without running formulas", () => {
    const long = makeReport({ ...input, samples: Array.from({ length: 5_000 }, (_, s) => sample("main", s, 5e6)) });
    expect(long.feeds[0]?.points.length).toBeLessThanOrEqual(240);
    const csv = reportCsv(makeReport(input));
    expect(csv.split("\r\n")[0]).toBe("section,what,of,value,unit");
    expect(csv).toContain('event,name,,"\'=Concert",');
    expect(csv).toContain("actual,availability,,0.9,ratio");
  });
});
