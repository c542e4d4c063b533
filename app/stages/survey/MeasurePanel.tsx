import type { LineTest } from "@ukaza/contract/lineTest";
import type { Survey, UplinkSurvey } from "@ukaza/contract/survey";
import { useState } from "react";
import { View } from "react-native";
import { send } from "../../data/api";
import { useHealth, useLineTests, useOrder } from "../../data/hooks";
import { useRefreshLines } from "../../data/useRefresh";
import { Button } from "../../ui/Button";
import { Loaded } from "../../ui/Loaded";
import { Overlay } from "../../ui/Overlay";
import { Panel } from "../../ui/Panel";
import { ProblemNote } from "../../ui/Problem";
import { ProgressBar } from "../../ui/ProgressBar";
import { Words } from "../../ui/Words";
import { costSentence } from "../../words/survey";
import { rateText } from "../../words/units";
import { LineTestRow } from "./LineTestRow";
import { PhoneTest } from "./PhoneTest";
import { PlanForm } from "./PlanForm";

/** Nothing is known of the line: what a test may cost is reckoned with this. */
const UNKNOWN_LINE_BPS = 20_000_000;

/** Measures one uplink: now, or at times to come. */
export function MeasurePanel({
  survey,
  show,
  timeZone,
  all,
}: {
  survey: UplinkSurvey;
  show: Survey["show"];
  timeZone: string;
  all: UplinkSurvey[];
}) {
  const { uplink } = survey;
  if (uplink.kind === "bonded") {
    const members = all.filter((u) => uplink.members.includes(u.uplink.id));
    return (
      <>
        <Panel title="Measure the line">
          <Words>{`A bonded group is measured by its members: ${members.map((m) => m.uplink.name).join(", ")}. They are tested one after the other.`}</Words>
        </Panel>
        {members.map((m) => (
          <TestPanel key={m.uplink.id} survey={m} show={show} timeZone={timeZone} title={`Measure ${m.uplink.name}`} />
        ))}
        <PhoneTest />
      </>
    );
  }
  return (
    <>
      <TestPanel survey={survey} show={show} timeZone={timeZone} title="Measure the line" />
      <PhoneTest />
    </>
  );
}

const isMoving = (t: LineTest) => t.state === "running" || t.state === "waiting";
const ENDED_SHOWN = 6;

function TestPanel({ survey, show, timeZone, title }: { survey: UplinkSurvey; show: Survey["show"]; timeZone: string; title: string }) {
  const { uplink } = survey;
  const refresh = useRefreshLines();
  const state = useLineTests(uplink.id);
  const { data: health } = useHealth();
  const { busy, error, run } = useOrder();
  const [planning, setPlanning] = useState(false);
  const expectedBps = survey.days[0]?.medianBps ?? UNKNOWN_LINE_BPS;
  const order = async (work: () => Promise<unknown>) => {
    if (await run(work)) await refresh();
  };
  return (
    <Panel title={title}>
      <Words>A test takes about 20 seconds: round trip, jitter and loss on the idle line, then an upload that fills it.</Words>
      <Words kind="faded" testID="cost">
        {`${costSentence(1, expectedBps, uplink.metered)}${survey.days.length === 0 ? " The line is unknown; reckoned with 20 Mb/s." : ""}`}
      </Words>
      {health?.standins && uplink.reflector === null ? (
        <Words kind="faded">
          Demo: the test goes over real sockets, through the simulated line. Its tests say so for as long as they are kept.
        </Words>
      ) : null}
      {survey.busy ? (
        <Words kind="strong">A feed is on this uplink now. A test would fill the line and hurt it, so none can start.</Words>
      ) : null}
      <ProblemNote error={error} />
      <Loaded state={state}>
        {(tests) => {
          const moving = tests.filter(isMoving);
          const planned = tests.filter((t) => t.state === "planned");
          const ended = tests.filter((t) => !isMoving(t) && t.state !== "planned");
          return (
            <>
              {moving.map((t) => (
                <MovingTest key={t.id} test={t} onCancel={() => void order(() => send("DELETE", `/tests/${t.id}`))} />
              ))}
              <View className="flex-row flex-wrap gap-2">
                <Button
                  look="main"
                  busy={busy}
                  disabled={moving.length > 0 || survey.busy}
                  onPress={() => void order(() => send("POST", `/uplinks/${uplink.id}/tests`, { kind: "now" }))}
                >
                  Measure now
                </Button>
                <Button onPress={() => setPlanning(true)}>Plan tests</Button>
              </View>
              {planned.length > 0 ? (
                <View className="gap-1">
                  <View className="flex-row items-center justify-between gap-2 pt-2">
                    <Words kind="strong">{planned.length === 1 ? "1 test planned" : `${planned.length} tests planned`}</Words>
                    <Button onPress={() => void order(() => send("DELETE", `/uplinks/${uplink.id}/tests`))}>Cancel all</Button>
                  </View>
                  {planned.map((t) => (
                    <LineTestRow
                      key={t.id}
                      test={t}
                      timeZone={timeZone}
                      onCancel={() => void order(() => send("DELETE", `/tests/${t.id}`))}
                    />
                  ))}
                </View>
              ) : null}
              {ended.length > 0 ? (
                <View>
                  <Words kind="strong">Lately</Words>
                  {ended
                    .slice(-ENDED_SHOWN)
                    .reverse()
                    .map((t) => (
                      <LineTestRow key={t.id} test={t} timeZone={timeZone} />
                    ))}
                </View>
              ) : null}
            </>
          );
        }}
      </Loaded>
      <Overlay title={`Tests of ${uplink.name} by plan`} open={planning} onClose={() => setPlanning(false)}>
        <PlanForm survey={survey} show={show} timeZone={timeZone} expectedBps={expectedBps} onDone={() => setPlanning(false)} />
      </Overlay>
    </Panel>
  );
}

const phaseWord = { reaching: "Reaching the reflector", probing: "Round trip, jitter and loss", uploading: "Filling the line" } as const;

/** The whole run by the clock: the probes take a quarter of it. */
const PROBES_SHARE = 0.3;

function MovingTest({ test, onCancel }: { test: LineTest; onCancel: () => void }) {
  const { progress } = test;
  const share = !progress
    ? 0
    : progress.phase === "uploading"
      ? PROBES_SHARE + (1 - PROBES_SHARE) * progress.share
      : PROBES_SHARE * progress.share;
  const words = progress
    ? `${phaseWord[progress.phase]}${progress.rateBps === null ? "" : `, ${rateText(progress.rateBps)} now`}`
    : "Waiting for another test to end";
  return (
    <View className="gap-2 rounded border border-deep p-3">
      <ProgressBar share={share} label={words} />
      <Button className="self-start" onPress={onCancel}>
        Cancel the test
      </Button>
    </View>
  );
}
