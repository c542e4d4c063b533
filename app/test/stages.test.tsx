import { act, cleanup, fireEvent, render, screen, waitFor, within } from "@testing-library/react";
import type { AirNow, LogLine, Sample } from "@ukaza/contract/air";
import type { FitNow } from "@ukaza/contract/fitChoice";
import type { RigNow } from "@ukaza/contract/rig";
import { demandsOf } from "@ukaza/core/fit/asked";
import { planFrom } from "@ukaza/core/fit/planFrom";
import { noFacts, runSheet } from "@ukaza/core/lineup/runSheet";
import type { ReactNode } from "react";
import { goodSample, oriel, problem, settings } from "../../core/test/kit";
import { LogPanel } from "../stages/air/LogPanel";
import { SwitchPanel } from "../stages/air/SwitchPanel";
import { WrongNow } from "../stages/air/WrongNow";
import { LineupStage } from "../stages/lineup/LineupStage";
import { RigStage } from "../stages/rig/RigStage";
import { answers, event, now, sent, show } from "./page";

jest.mock("expo-router", () => ({ useRouter: () => ({ push: jest.fn() }), Link: ({ children }: { children: ReactNode }) => children }));
jest.mock("react-native-chart-kit/v2", () => ({ LineChart: () => null }));

describe("rig and line-up", () => {
  const chosen: FitNow["chosen"] = {
    id: "p",
    name: "Plan 1",
    savedAt: "2026-06-10T12:00:00Z",
    demands: demandsOf(event),
    plan: planFrom(problem([7_000_000]), [{ destinationId: "oriel", settings, feeds: [], through: null, rungs: [], bound: "sheet" }]),
  };
  const rig = (more: Partial<RigNow> = {}): RigNow => ({
    destinationId: "oriel",
    platformId: "oriel-public",
    platformName: "Oriel Public",
    others: [],
    encoderId: "desk-encoder",
    encoderName: "Desk encoder",
    setBy: "two fields",
    account: "connected",
    paired: null,
    toType: [],
    ingests: [],
    configuredAt: null,
    readBack: null,
    ...more,
  });
  const ingests: RigNow["ingests"] = [
    {
      role: "main",
      address: "rtmp://h/live",
      keyMasked: "••••••••mnop",
      receivedAt: "2026-06-10T12:00:00Z",
      fields: [
        { label: "Address", value: "rtmp://h/live", secret: false },
        { label: "Stream key", value: "••••••••mnop", secret: true },
      ],
    },
  ];
  const open = (answer: RigNow) => {
    answers.set("GET /api/events/e/fit", {
      problem: null,
      unmeasured: [],
      uplinkNames: {},
      sustainableBps: {},
      metered: {},
      spare: [],
      plans: [],
      chosen,
      fixed: false,
    } satisfies FitNow);
    answers.set("GET /api/events/e/rig", answer);
    answers.set("GET /api/events/e/lineup", runSheet("d", oriel.lifecycle, noFacts, "2026-06-10T12:00:00Z"));
    show(<RigStage eventId="e" />);
  };

  test("the next thing follows what is there: broadcast, configuration, difference, line-up", async () => {
    open(rig());
    expect(await screen.findByRole("button", { name: "Create the broadcast" })).toBeTruthy();
    cleanup();
    open(rig({ ingests }));
    expect(await screen.findByRole("button", { name: "Configure the encoder" })).toBeTruthy();
    cleanup();
    const fields = [
      { feed: "main", field: "audioBps", wanted: "128000", held: "160000", equal: false },
      { feed: "main", field: "key", wanted: "••••••••mnop", held: "••••••••mnop", equal: true },
    ] as const;
    open(
      rig({ ingests, configuredAt: "2026-06-10T12:00:00Z", readBack: { at: "2026-06-10T12:00:00Z", equal: false, fields: [...fields] } }),
    );
    expect(await screen.findByText("1 of 2 fields differ")).toBeTruthy();
    const table = screen.getByRole("table", { name: "Fields told and held" });
    expect(within(table).getByText("160 kb/s")).toBeTruthy();
    expect(within(table).getByText("told: 128 kb/s")).toBeTruthy();
    expect(within(table).queryByText("Main key")).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: "Show every field" }));
    expect(within(table).getByText("Main key")).toBeTruthy();
  });

  test("a key is shown only when asked for twice, and hides itself", async () => {
    open(rig({ ingests }));
    answers.set("POST /api/events/e/rig/reveal", {
      key: "abcd-efgh-ijkl-mnop",
      fields: [{ label: "Stream key", value: "abcd-efgh-ijkl-mnop", secret: true }],
    });
    fireEvent.click(await screen.findByRole("button", { name: "Show the main key" }));
    expect(sent).toEqual([]);
    fireEvent.click(screen.getByRole("button", { name: "Leave it hidden" }));
    expect(sent).toEqual([]);
    fireEvent.click(screen.getByRole("button", { name: "Show the main key" }));
    jest.useFakeTimers({ doNotFake: ["queueMicrotask", "nextTick"] });
    fireEvent.click(screen.getByRole("button", { name: "Show it" }));
    await waitFor(() => expect(screen.getByText("abcd-efgh-ijkl-mnop")).toBeTruthy());
    act(() => void jest.advanceTimersByTime(21_000));
    expect(screen.queryByText("abcd-efgh-ijkl-mnop")).toBeNull();
    jest.useRealTimers();
  });

  test("the run sheet offers only the step whose turn it is, and says what the others wait for", async () => {
    answers.set("GET /api/events/e", now);
    answers.set("GET /api/events/e/rig", rig());
    answers.set("GET /api/events/e/lineup", runSheet("d", oriel.lifecycle, { ...noFacts, configured: true }, "2026-06-10T12:00:00Z"));
    show(<LineupStage eventId="e" />);
    expect(await screen.findByText("Everything is in place. Start sending: nobody sees it yet.")).toBeTruthy();
    expect(screen.getAllByRole("button").map((b) => b.textContent)).toEqual(["Start sending"]);
    expect(screen.getByText("First: someone watches the preview.")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Start sending" }));
    await waitFor(() => expect(sent).toEqual([{ method: "POST", path: "/api/events/e/lineup/steps/send", body: {} }]));
  });

  test("a refused stream says what to do", async () => {
    const facts = {
      ...noFacts,
      configured: true,
      sendingAt: "2026-06-10T12:00:00Z",
      receivingAt: "2026-06-10T12:00:03Z",
      verdict: "refused" as const,
      verdictReason: "audio-over-max",
    };
    answers.set("GET /api/events/e", now);
    answers.set("GET /api/events/e/rig", rig());
    answers.set("GET /api/events/e/lineup", runSheet("d", oriel.lifecycle, facts, "2026-06-10T12:00:10Z"));
    show(<LineupStage eventId="e" />);
    expect(await screen.findByText(/Oriel Public refuses the stream\. Stop sending, mend the settings in Fit/)).toBeTruthy();
    expect(screen.getByText("Verdict refused: audio over max")).toBeTruthy();
  });
});

describe("air", () => {
  const last = (sentBps: number): Sample => goodSample("f-1", "2026-06-10T19:00:00Z", { sentBps, receivedBps: sentBps });
  const air = (main: "steady" | "broken", active: "main" | "backup" = "main"): AirNow => ({
    eventId: "e",
    at: "2026-06-10T19:00:00Z",
    running: true,
    standins: true,
    destinationId: "d",
    platformName: "Oriel Public",
    broadcast: "public",
    publicAt: "2026-06-10T18:59:00Z",
    active,
    feeds: [
      {
        id: "f-1",
        role: "main",
        uplinkId: "a",
        uplinkName: "Hall fibre",
        encoderName: "Desk encoder",
        targetBps: 5e6,
        last: last(1e6),
        verdict: {
          feedId: "f-1",
          health: main,
          since: "2026-06-10T18:59:50Z",
          cause: main === "steady" ? null : "uplink",
          evidence: main === "steady" ? [] : [{ sign: "sent-low", is: 0.2, limit: 0.5 }],
        },
      },
      {
        id: "f-2",
        role: "backup",
        uplinkId: "b",
        uplinkName: "Crew hotspot",
        encoderName: "Desk encoder",
        targetBps: 5e6,
        last: last(5e6),
        verdict: { feedId: "f-2", health: "steady", since: "2026-06-10T18:50:00Z", cause: null, evidence: [] },
      },
    ],
    policy: event.failover,
    incident: null,
  });

  test("silence unless something is wrong; then what, where, since when and what to do", () => {
    const { rerender } = render(<WrongNow air={air("steady")} timeZone="UTC" />);
    expect(screen.getByText("All feeds are steady.")).toBeTruthy();
    rerender(<WrongNow air={air("broken")} timeZone="UTC" />);
    expect(screen.getByText("The uplink is at fault: only 20 % of the target is sent.")).toBeTruthy();
    expect(screen.getByText(/^Since 18:59:50 .*Viewers have this feed\.$/)).toBeTruthy();
    expect(screen.getByText(/The other feed is steady: switch to it/)).toBeTruthy();
    rerender(<WrongNow air={air("broken", "backup")} timeZone="UTC" />);
    expect(screen.getByText(/Viewers have the backup feed and see no trouble/)).toBeTruthy();
    expect(screen.queryByText(/switch to it/)).toBeNull();
  });

  test("switching by hand warns when the other feed is worse", () => {
    const { rerender } = show(<SwitchPanel eventId="e" air={air("steady")} />);
    expect(screen.getByText(/Viewers get the backup feed over Crew hotspot, now steady/).textContent).not.toContain("worse");
    rerender(<SwitchPanel eventId="e" air={air("broken", "backup")} />);
    expect(screen.getByText(/now broken; .* It is worse than the one they have\./)).toBeTruthy();
    expect(screen.getByText(/at most 3 times in 10 min\. Back to main only by hand\./)).toBeTruthy();
  });

  test("the log is newest first, with a sign beside the colour, and opens to its whole length", async () => {
    const lines: LogLine[] = Array.from({ length: 12 }, (_, i) => ({
      id: i + 1,
      at: `2026-06-10T18:${10 + i}:00Z`,
      kind: "note",
      level: i === 11 ? "alarm" : "info",
      feedId: null,
      data: { text: `line ${i + 1}` },
    }));
    answers.set("GET /api/events/e/log", lines);
    show(<LogPanel eventId="e" air={air("steady")} timeZone="UTC" />);
    const log = await screen.findByRole("log");
    expect(within(log).getByText("■ line 12")).toBeTruthy();
    expect(within(log).queryByText("line 1")).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: "Show all 12 lines" }));
    expect(within(log).getByText("line 1")).toBeTruthy();
  });
});
