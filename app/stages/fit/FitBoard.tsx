import type { Event } from "@ukaza/contract/event";
import type { EventDemands } from "@ukaza/contract/eventPlan";
import type { FitNow } from "@ukaza/contract/fitChoice";
import type { WholeAnswer, WholePlan } from "@ukaza/contract/fitPlan";
import { plannedOf } from "@ukaza/core/fit/planFrom";
import { useRouter } from "expo-router";
import { type ReactNode, useState } from "react";
import { View } from "react-native";
import { send } from "../../data/api";
import { useOrder } from "../../data/hooks";
import { useRefresh } from "../../data/useRefresh";
import { Button } from "../../ui/Button";
import { NextThing } from "../../ui/NextThing";
import { ProblemNote } from "../../ui/Problem";
import { useWide } from "../../ui/useWide";
import { Words } from "../../ui/Words";
import { certificateSentence, namesOf, servedSentence } from "../../words/plan";
import type { Answered } from "../../workers/usePlanAnswer";
import { usePlanJob } from "../../workers/usePlanJob";
import { BudgetPanel } from "./BudgetPanel";
import { DestinationCards } from "./DestinationCards";
import { EncodersPanel } from "./EncodersPanel";
import { ForecastPanel } from "./ForecastPanel";
import { InsightsPanel } from "./InsightsPanel";
import { asOfNow, findingsOf, nextName, sameDemands, samePlan } from "./inHand";
import { LoadLines } from "./LoadLines";
import { PlansPanel } from "./PlansPanel";
import { StepDownPanel } from "./StepDownPanel";

interface Props {
  event: Event;
  now: FitNow;
  answered: Answered & { answer: WholeAnswer & { kind: "fit" } };
  demands: EventDemands;
  /** The lines are not the measured ones: nothing is chosen from this. */
  supposing: boolean;
  busy: boolean;
  onAsk: (demands: EventDemands) => void;
  sliders: ReactNode;
  problemNote: ReactNode;
}

/** The plan in hand: the best, the one that the event goes by, or one that was taken up; everything beside it moves along. */
export function FitBoard({ event, now, answered, demands, supposing, busy, onAsk, sliders, problemNote }: Props) {
  const wide = useWide();
  const router = useRouter();
  const refresh = useRefresh(event.id);
  const order = useOrder();
  const [taken, setTaken] = useState<WholePlan | null>(null);
  const { problem, answer, laidOver } = answered;
  const { chosen } = now;
  const names = namesOf(problem, now.uplinkNames);
  const frozen = chosen && !supposing && (now.fixed || sameDemands(chosen.demands, demands)) ? asOfNow(problem, chosen) : null;
  const plan = taken ?? frozen ?? answer.plan;
  const best = samePlan(plan, answer.plan);
  const goesByThis = chosen !== null && samePlan(plan, chosen.plan);
  const blocked = [...findingsOf(problem, plan).values()].flat().filter((f) => f.level === "blocks").length;
  const insights = usePlanJob("insights", best ? { kind: "insights", problem, plan: answer.plan } : null);
  const bounds = best && insights.found ? new Map(insights.found.insights.bounds.map((b) => [b.destinationId, b.bound])) : undefined;

  const ask = (next: EventDemands) => {
    setTaken(null);
    onAsk(next);
  };
  const use = async (despite: boolean) => {
    const body = { name: nextName(now), destinations: plannedOf(plan), despite };
    if (!(await order.run(() => send<FitNow>("PUT", `/events/${event.id}/fit`, body)))) return;
    setTaken(null);
    await refresh();
  };
  const served = servedSentence(plan);
  const sentence = supposing
    ? `With such lines: ${served} Nothing is chosen from a supposition.`
    : now.fixed
      ? "An encoder sends by this plan; it stays as it is."
      : goesByThis
        ? `The event goes by this plan: ${served} Next, get address and key into the encoder.`
        : `${best ? "The best use of these lines" : "Another plan"}: ${served}`;
  const column = "min-w-0 flex-1 gap-4";
  return (
    <>
      <NextThing sentence={sentence}>
        <Words kind="small" testID="certificate">
          {best
            ? certificateSentence(answer.certificate)
            : `${plan.points.toFixed(1)} points; the best plan has ${answer.plan.points.toFixed(1)}.`}
        </Words>
        {supposing ? null : now.fixed || goesByThis ? (
          <Button look="main" onPress={() => router.push(`/events/${event.id}/rig`)}>
            Go to Rig
          </Button>
        ) : (
          <Button look="main" busy={order.busy} disabled={blocked > 0 || busy} onPress={() => use(false)}>
            Use this plan
          </Button>
        )}
        {blocked > 0 && !supposing && !now.fixed && !goesByThis ? (
          <Button look="danger" busy={order.busy} disabled={busy} onPress={() => use(true)}>
            Use it despite the findings
          </Button>
        ) : null}
        {!best && !now.fixed ? (
          <Button onPress={() => (taken ? setTaken(null) : setTaken(answer.plan))}>
            {taken && frozen ? "Back to the event's plan" : "Back to the best plan"}
          </Button>
        ) : null}
        <ProblemNote error={order.error} />
        {problemNote}
        {chosen ? <Button onPress={() => router.push(`/settings-sheet/${event.id}`)}>Settings sheets of the encoders</Button> : null}
      </NextThing>
      <View className={wide ? "flex-row items-start gap-4" : "gap-4"}>
        <View className={column}>
          <DestinationCards
            problem={problem}
            plan={plan}
            demands={demands}
            names={names}
            laidOver={laidOver}
            fixed={now.fixed}
            {...(bounds ? { bounds } : {})}
            onAsk={ask}
          />
          <PlansPanel event={event} now={now} problem={problem} plan={plan} names={names} onTake={setTaken} />
          {wide ? <ForecastPanel event={event} problem={problem} now={now} plan={plan} onTake={setTaken} /> : null}
        </View>
        <View className={wide ? "w-[400px] gap-4" : "gap-4"}>
          <LoadLines problem={problem} now={now} plan={plan} names={names} />
          {sliders}
          <InsightsPanel
            share={insights.share}
            error={insights.error}
            insights={insights.found?.insights ?? null}
            names={names}
            fixed={now.fixed}
            onTake={setTaken}
          />
          <StepDownPanel problem={problem} plan={plan} names={names} />
          {wide ? null : <ForecastPanel event={event} problem={problem} now={now} plan={plan} onTake={setTaken} />}
          <EncodersPanel event={event} problem={problem} plan={plan} now={now} demands={demands} onAsk={ask} />
          <BudgetPanel event={event} problem={problem} now={now} plan={plan} names={names} />
        </View>
      </View>
    </>
  );
}
