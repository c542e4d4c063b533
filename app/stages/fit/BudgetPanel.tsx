import type { Destination, Event } from "@ukaza/contract/event";
import type { FitProblem } from "@ukaza/contract/fit";
import type { FitNow } from "@ukaza/contract/fitChoice";
import type { Settings } from "@ukaza/contract/settings";
import {
  budgetRules,
  type DelayPart,
  dataBudget,
  delayBudget,
  delaySumMs,
  diskBudget,
  plannedS,
  serviceCost,
} from "@ukaza/core/fit/budgets";
import { useState } from "react";
import { View } from "react-native";
import { Choice } from "../../ui/Choice";
import { Field } from "../../ui/Field";
import { Panel } from "../../ui/Panel";
import { Row } from "../../ui/Row";
import { Words } from "../../ui/Words";
import { dataSentence, delayPartText, diskSentence, secondsText } from "../../words/budgets";
import { clock } from "../../words/units";

interface Props {
  event: Event;
  problem: FitProblem;
  now: FitNow;
  settings: Settings;
  /** Load of each feed, bit/s at the IP layer. */
  cargo: { uplinkId: string; loadBps: number }[];
}

/** What the show costs in time, data, disk and money with the settings in hand. */
export function BudgetPanel({ event, problem, now, settings, cargo }: Props) {
  const [destination] = event.destinations;
  const [fitted] = problem.destinations;
  const [encoder] = problem.encoders;
  if (!destination || !fitted || !encoder) return null;
  const seconds = plannedS(event.show);
  const loads = new Map<string, number>();
  for (const { uplinkId, loadBps } of cargo) loads.set(uplinkId, (loads.get(uplinkId) ?? 0) + loadBps);
  const data = dataBudget(
    problem.uplinks.map((u) => ({ id: u.id, metered: now.metered[u.id] ?? null })),
    loads,
    seconds,
  );
  const cost = serviceCost(fitted.sheet, seconds);
  return (
    <Panel title="Budgets">
      <Words kind="small">{`For ${clock(seconds)} of sending: the show, ${budgetRules.leadMinutes} minutes before and ${budgetRules.tailMinutes} after it. Rules of thumb.`}</Words>
      <Delay destination={destination} problem={problem} settings={settings} mainUplinkId={cargo[0]?.uplinkId ?? ""} />
      {data.map((d) => (
        <Words key={d.uplinkId} {...(d.over ? { tone: "text-broken" } : {})}>
          {dataSentence(d, now.uplinkNames[d.uplinkId] ?? d.uplinkId)}
        </Words>
      ))}
      {cost === null ? null : (
        <Words>{`${fitted.sheet.platform.name} costs ${cost.toFixed(2)} in its own currency; it runs until the last feed stops.`}</Words>
      )}
      {encoder.recordings.length > 0 ? <Disk encoder={encoder} seconds={seconds} /> : null}
    </Panel>
  );
}

function Delay({
  destination,
  problem,
  settings,
  mainUplinkId,
}: {
  destination: Destination;
  problem: FitProblem;
  settings: Settings;
  mainUplinkId: string;
}) {
  const [mode, setMode] = useState(destination.latencyMode);
  const [fitted] = problem.destinations;
  const [encoder] = problem.encoders;
  if (!fitted || !encoder) return null;
  const { sheet } = fitted;
  const uplink = problem.uplinks.find((u) => u.id === mainUplinkId);
  const { toPreview, toViewer } = delayBudget({
    settings,
    encoder,
    sheet,
    rttMs: uplink?.rttMs ?? null,
    lossRatio: uplink?.lossRatio ?? null,
    latencyMode: mode,
    addedDelayS: destination.addedDelayS,
  });
  return (
    <>
      {sheet.latencyModes.length > 1 ? (
        <Choice
          label="Latency mode"
          value={mode ?? sheet.latencyModes[0]?.name ?? ""}
          options={sheet.latencyModes.map((m) => ({ value: m.name, word: `${m.name}, ${m.delayS} s` }))}
          onChange={setMode}
        />
      ) : null}
      <Parts label="Lens to viewer" parts={toViewer} none="the platform says nothing of its delay" />
      <Parts label="Lens to preview" parts={toPreview} none="there is no preview" />
    </>
  );
}

function Parts({ label, parts, none }: { label: string; parts: DelayPart[] | null; none: string }) {
  if (!parts) return <Row label={label}>{none}</Row>;
  return (
    <View>
      <Row label={label}>{`about ${secondsText(delaySumMs(parts))}`}</Row>
      <View className="pl-4">
        {parts.map((p) => {
          const [what, time] = delayPartText(p);
          return <Words key={p.part} kind="small">{`${what}: ${time}`}</Words>;
        })}
      </View>
    </View>
  );
}

const MBPS = 1e6;

function Disk({ encoder, seconds }: { encoder: FitProblem["encoders"][number]; seconds: number }) {
  const [typed, setTyped] = useState(String(budgetRules.recordBps / MBPS));
  const rate = Number(typed.replace(",", ".")) * MBPS;
  const good = typed.trim() !== "" && Number.isFinite(rate) && rate > 0 && rate <= 1e9;
  return (
    <>
      <Field
        label="A recording beside the stream, at"
        unit="Mb/s"
        numeric
        value={typed}
        onChange={setTyped}
        error={good ? undefined : "Give a bitrate up to 1000 Mb/s."}
      />
      {good
        ? diskBudget(encoder, rate, seconds).map((d) => (
            <Words key={d.name} {...(d.fits ? {} : { tone: "text-broken" })}>
              {diskSentence(d)}
            </Words>
          ))
        : null}
    </>
  );
}
