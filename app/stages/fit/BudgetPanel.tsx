import type { Event } from "@ukaza/contract/event";
import type { FitProblem } from "@ukaza/contract/fit";
import type { FitNow } from "@ukaza/contract/fitChoice";
import type { WholePlan } from "@ukaza/contract/fitPlan";
import { budgetRules, type DelayPart, dataBudget, delayBudget, delaySumMs, plannedS, serviceCost } from "@ukaza/core/fit/budgets";
import { useState } from "react";
import { View } from "react-native";
import { Choice } from "../../ui/Choice";
import { Panel } from "../../ui/Panel";
import { Row } from "../../ui/Row";
import { Words } from "../../ui/Words";
import { dataSentence, delayPartText, secondsText } from "../../words/budgets";
import type { Names } from "../../words/plan";
import { clock } from "../../words/units";

interface Props {
  event: Event;
  problem: FitProblem;
  now: FitNow;
  plan: WholePlan;
  names: Names;
}

/** What the show costs in time, data and money by the plan in hand. */
export function BudgetPanel({ event, problem, now, plan, names }: Props) {
  const seconds = plannedS(event.show);
  const data = dataBudget(
    problem.uplinks.map((u) => ({ id: u.id, metered: now.metered[u.id] ?? null })),
    new Map(plan.uplinks.map((u) => [u.uplinkId, u.loadBps])),
    seconds,
  );
  const costs = problem.destinations.flatMap(({ id, sheet }) => {
    const cost = plan.destinations.find((d) => d.destinationId === id)?.settings ? serviceCost(sheet, seconds) : null;
    return cost === null ? [] : [{ id, cost }];
  });
  return (
    <Panel title="Budgets">
      <Words kind="small">{`For ${clock(seconds)} of sending: the show, ${budgetRules.leadMinutes} minutes before and ${budgetRules.tailMinutes} after it. Rules of thumb.`}</Words>
      <Delay event={event} problem={problem} plan={plan} names={names} />
      {data.map((d) => (
        <Words key={d.uplinkId} {...(d.over ? { tone: "text-broken" } : {})}>
          {dataSentence(d, names.uplink(d.uplinkId))}
        </Words>
      ))}
      {costs.map(({ id, cost }) => (
        <Words
          key={id}
        >{`${names.destination(id)} costs ${cost.toFixed(2)} in its own currency; it runs until the last feed stops.`}</Words>
      ))}
    </Panel>
  );
}

/** Lens to viewer and to preview, of one destination at a time. */
function Delay({ event, problem, plan, names }: Omit<Props, "now">) {
  const served = plan.destinations.filter((d) => d.settings && !problem.destinations.find((g) => g.id === d.destinationId)?.relay);
  const [picked, setPicked] = useState<string | null>(null);
  const [modes, setModes] = useState<Record<string, string>>({});
  const one = served.find((d) => d.destinationId === picked) ?? served[0];
  const given = problem.destinations.find((d) => d.id === one?.destinationId);
  const destination = event.destinations.find((d) => d.id === one?.destinationId);
  // What a relay passes on comes to it by the relay's own feed.
  const feed = (plan.destinations.find((d) => d.destinationId === one?.through) ?? one)?.feeds[0];
  const encoder = problem.encoders.find((e) => e.id === feed?.encoderId);
  if (!one?.settings || !given || !destination || !encoder) return null;
  const uplink = problem.uplinks.find((u) => u.id === feed?.uplinkId);
  const mode = modes[given.id] ?? destination.latencyMode;
  const { toPreview, toViewer } = delayBudget({
    settings: one.settings,
    encoder,
    sheet: given.sheet,
    rttMs: uplink?.rttMs ?? null,
    lossRatio: uplink?.lossRatio ?? null,
    latencyMode: mode,
    addedDelayS: destination.addedDelayS,
  });
  return (
    <>
      {served.length > 1 ? (
        <Choice
          label="Delay of"
          value={given.id}
          options={served.map((d) => ({ value: d.destinationId, word: names.destination(d.destinationId) }))}
          onChange={setPicked}
        />
      ) : null}
      {given.sheet.latencyModes.length > 1 ? (
        <Choice
          label="Latency mode"
          value={mode ?? given.sheet.latencyModes[0]?.name ?? ""}
          options={given.sheet.latencyModes.map((m) => ({ value: m.name, word: `${m.name}, ${m.delayS} s` }))}
          onChange={(to) => setModes({ ...modes, [given.id]: to })}
        />
      ) : null}
      <Parts label="Lens to viewer" parts={toViewer} none="the platform says nothing of its delay" />
      <Parts label="Lens to preview" parts={toPreview} none="there is no preview" />
      {one.through ? <Words kind="small">{`What ${names.destination(one.through)} adds is not known and not counted.`}</Words> : null}
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
