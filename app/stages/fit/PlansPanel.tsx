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
import { Words } from "../../ui/Words";
import { type Names, servedSentence } from "../../words/plan";
import { ComparePlans } from "./ComparePlans";
import { asOfNow, nextName } from "./inHand";
import { KeptPlan } from "./KeptPlan";

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
            <KeptPlan
              key={one.id}
              kept={one}
              goneBy={one.id === now.chosen?.id}
              served={servedSentence(asOfNow(problem, one))}
              timeZone={event.timeZone}
              busy={busy}
              onCompare={() => setAgainst(one)}
              onTake={now.fixed ? null : () => onTake(asOfNow(problem, one))}
              onRename={async (to) => Boolean(await then(send<FitNow>("PATCH", `${base}/${one.id}`, { name: to })))}
              onRemove={() => void then(send<FitNow>("DELETE", `${base}/${one.id}`))}
            />
          ))}
        </View>
      )}
      <ComparePlans kept={against} plan={plan} names={names} onClose={() => setAgainst(null)} />
    </Panel>
  );
}
