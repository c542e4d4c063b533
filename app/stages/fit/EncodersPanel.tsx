import type { Encoder } from "@ukaza/contract/encoder";
import type { Event } from "@ukaza/contract/event";
import type { EventDemands } from "@ukaza/contract/eventPlan";
import type { FitProblem } from "@ukaza/contract/fit";
import type { FitNow } from "@ukaza/contract/fitChoice";
import type { WholePlan } from "@ukaza/contract/fitPlan";
import { budgetRules, diskBudget, plannedS } from "@ukaza/core/fit/budgets";
import { useState } from "react";
import { View } from "react-native";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Panel } from "../../ui/Panel";
import { Several } from "../../ui/Several";
import { Tick } from "../../ui/Tick";
import { Words } from "../../ui/Words";
import { diskSentence } from "../../words/budgets";
import { planTitle } from "../../words/fit";

interface Props {
  event: Event;
  problem: FitProblem;
  plan: WholePlan;
  now: FitNow;
  demands: EventDemands;
  onAsk: (demands: EventDemands) => void;
}

const MBPS = 1e6;

/** The encoders of the event: what each runs by the plan, and what it records beside it. */
export function EncodersPanel({ event, problem, plan, now, demands, onAsk }: Props) {
  const kit = [...problem.encoders, ...now.spare.filter((e) => !problem.encoders.some((own) => own.id === e.id))];
  const seconds = plannedS(event.show);
  const record = (id: string, bps: number | null) => {
    const { [id]: _before, ...others } = demands.recordBps;
    onAsk({ ...demands, recordBps: bps === null ? others : { ...others, [id]: bps } });
  };
  return (
    <Panel title="Encoders">
      {now.fixed ? null : (
        <Several
          value={demands.encoderIds}
          options={kit.map((e) => ({ value: e.id, word: e.name }))}
          // At least one stays, at most six go along.
          onChange={(encoderIds) => encoderIds.length > 0 && encoderIds.length <= 6 && onAsk(withEncoders(demands, encoderIds))}
        />
      )}
      {problem.encoders.map((encoder) => {
        const runs = plan.engines.filter((e) => e.encoderId === encoder.id);
        const used = runs.reduce((sum, e) => sum + e.count, 0);
        return (
          <View key={encoder.id} className="gap-1 border-t border-rule pt-2">
            <Words kind="strong">{`${encoder.name}: ${used} of ${encoder.engines} ${encoder.engines === 1 ? "engine" : "engines"}`}</Words>
            {runs.map((e) => (
              <Words key={e.destinationIds.join()} kind="small">
                {`${planTitle(e.settings)}: ${e.destinationIds.map((id) => problem.destinations.find((d) => d.id === id)?.sheet.platform.name ?? id).join(" and ")}`}
              </Words>
            ))}
            {encoder.recordings.length > 0 ? (
              <Recording
                key={demands.recordBps[encoder.id] ?? 0}
                encoder={encoder}
                bps={demands.recordBps[encoder.id] ?? null}
                seconds={seconds}
                fixed={now.fixed}
                onChange={(bps) => record(encoder.id, bps)}
              />
            ) : null}
          </View>
        );
      })}
      {now.fixed ? null : (
        <Tick
          label="Bitrates may rise above what the platforms recommend, to their maximum"
          on={demands.allowMaximum}
          onChange={(allowMaximum) => onAsk({ ...demands, allowMaximum })}
        />
      )}
    </Panel>
  );
}

/** Demands with other encoders; what was asked of one that stays behind is asked no more. */
function withEncoders(demands: EventDemands, encoderIds: string[]): EventDemands {
  return {
    ...demands,
    encoderIds,
    recordBps: Object.fromEntries(Object.entries(demands.recordBps).filter(([id]) => encoderIds.includes(id))),
    destinations: demands.destinations.map((d) => ({
      ...d,
      onlyFrom: d.onlyFrom !== null && encoderIds.includes(d.onlyFrom) ? d.onlyFrom : null,
      backupFrom: encoderIds.length > 1 ? d.backupFrom : "same encoder",
    })),
  };
}

function Recording({
  encoder,
  bps,
  seconds,
  fixed,
  onChange,
}: {
  encoder: Encoder;
  bps: number | null;
  seconds: number;
  fixed: boolean;
  onChange: (bps: number | null) => void;
}) {
  const [typed, setTyped] = useState(String((bps ?? budgetRules.recordBps) / MBPS));
  const rate = Number(typed.replace(",", ".")) * MBPS;
  const good = typed.trim() !== "" && Number.isFinite(rate) && rate >= 100_000 && rate <= 1e9;
  return (
    <View className="gap-2">
      <Tick
        label={`Record beside the stream on the ${encoder.name.toLowerCase()}`}
        on={bps !== null}
        disabled={fixed}
        onChange={(on) => onChange(on ? budgetRules.recordBps : null)}
      />
      {bps === null ? null : (
        <>
          <View className="flex-row flex-wrap items-end gap-2">
            <Field
              narrow
              label={`Recording of the ${encoder.name.toLowerCase()}`}
              unit="Mb/s"
              numeric
              value={typed}
              onChange={setTyped}
              error={good ? undefined : "Give a bitrate from 0.1 to 1000 Mb/s."}
            />
            {good && rate !== bps && !fixed ? <Button onPress={() => onChange(Math.round(rate))}>Set it</Button> : null}
          </View>
          {good
            ? diskBudget(encoder, rate, seconds).map((d) => (
                <Words key={d.name} {...(d.fits ? {} : { tone: "text-broken" })}>
                  {diskSentence(d)}
                </Words>
              ))
            : null}
        </>
      )}
    </View>
  );
}
