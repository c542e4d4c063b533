import type { Event } from "@ukaza/contract/event";
import type { EventPlan } from "@ukaza/contract/eventPlan";
import type { FitProblem } from "@ukaza/contract/fit";
import type { FitNow } from "@ukaza/contract/fitChoice";
import type { WholePlan } from "@ukaza/contract/fitPlan";
import { plannedOf } from "@ukaza/core/fit/planFrom";
import { useState } from "react";
import { View } from "react-native";
import { send } from "../../data/api";
import { useOrder } from "../../data/hooks";
import { useRefresh } from "../../data/useRefresh";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Panel } from "../../ui/Panel";
import { ProblemNote } from "../../ui/Problem";
import { Removal } from "../../ui/Removal";
import { Words } from "../../ui/Words";
import { type Names, servedSentence } from "../../words/plan";
import { dayText, timeText } from "../../words/units";
import { ComparePlans } from "./ComparePlans";
import { asOfNow, nextName } from "./inHand";

interface Props {
  event: Event;
  now: FitNow;
  problem: FitProblem;
  plan: WholePlan;
  names: Names;
  onTake: (plan: WholePlan) => void;
}

/** Plans that were kept: named, taken up again, held against the one in hand. */
export function PlansPanel({ event, now, problem, plan, names, onTake }: Props) {
  const refresh = useRefresh(event.id);
  const { busy, error, run } = useOrder();
  const [name, setName] = useState("");
  const [against, setAgainst] = useState<EventPlan | null>(null);
  const base = `/events/${event.id}/plans`;
  const then = async (order: Promise<FitNow>) => {
    const done = await run(() => order);
    if (done) await refresh();
    return done;
  };
  const keep = async () => {
    const wanted = name.trim() || nextName(now);
    if (await then(send<FitNow>("POST", base, { name: wanted, destinations: plannedOf(plan), despite: true }))) setName("");
  };
  const kept = now.chosen && now.chosen.id !== "imported" ? [now.chosen, ...now.plans] : now.plans;
  return (
    <Panel title="Plans">
      <View className="flex-row flex-wrap items-end gap-2">
        <Field narrow label="Name of the plan in hand" value={name} onChange={setName} hint={nextName(now)} />
        <Button busy={busy} onPress={() => void keep()}>
          Keep this plan
        </Button>
      </View>
      <ProblemNote error={error} />
      {kept.length === 0 ? (
        <Words kind="faded">Keep a plan to compare it with another. The plan that is used for the event is kept by itself.</Words>
      ) : (
        <View role="list" aria-label="Kept plans" className="gap-3">
          {kept.map((one) => (
            <View key={one.id} role="listitem" aria-label={one.name} className="gap-2 border-b border-rule pb-3">
              <Words kind="strong">{`${one.name}${one.id === now.chosen?.id ? ": the event goes by it" : ""}`}</Words>
              <Words kind="small">{`${servedSentence(asOfNow(problem, one))} ${one.plan.points.toFixed(1)} points when it was kept, ${dayText(one.savedAt, event.timeZone)}, ${timeText(one.savedAt, event.timeZone)}.`}</Words>
              <View className="flex-row flex-wrap gap-2">
                <Button label={`Compare ${one.name} with the plan in hand`} onPress={() => setAgainst(one)}>
                  Compare
                </Button>
                {now.fixed ? null : (
                  <Button label={`Take up ${one.name}`} onPress={() => onTake(asOfNow(problem, one))}>
                    Take it up
                  </Button>
                )}
                {one.id === now.chosen?.id ? null : (
                  <Removal
                    word={`Remove ${one.name}`}
                    question={`"${one.name}" is thrown away. What the event goes by stays as it is.`}
                    onRemove={() => void then(send<FitNow>("DELETE", `${base}/${one.id}`))}
                  />
                )}
              </View>
            </View>
          ))}
        </View>
      )}
      <ComparePlans kept={against} plan={plan} names={names} onClose={() => setAgainst(null)} />
    </Panel>
  );
}
