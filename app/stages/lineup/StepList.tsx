import type { LineupFacts, RunSheet, Step } from "@ukaza/contract/lineup";
import { View } from "react-native";
import { send } from "../../data/api";
import { useEvent, useOrder, useRig } from "../../data/hooks";
import { useRefresh } from "../../data/useRefresh";
import { ProblemNote } from "../../ui/Problem";
import { StepRow } from "./StepRow";

/** Steps of the run sheet in their order, each taken from here when its turn has come. */
export function StepList({ eventId, steps, facts }: { eventId: string; steps: Step[]; facts: LineupFacts }) {
  const refresh = useRefresh(eventId);
  const { data: rig } = useRig(eventId);
  const { data: now } = useEvent(eventId);
  const { busy, error, run } = useOrder();
  const take = async ({ id }: Step) => {
    // What viewers see is named a second time, whether or not the platform lets it be taken back.
    const body = id === "public" || id === "end" ? { confirm: id } : {};
    const next = await run(() => send<RunSheet>("POST", `/events/${eventId}/lineup/steps/${id}`, body));
    if (next) await refresh();
  };
  return (
    <>
      <ProblemNote error={error} />
      <View role="list">
        {steps.map((step, i) => (
          <StepRow
            key={step.id}
            step={step}
            place={i + 1}
            platform={rig?.platformName ?? "the platform"}
            facts={facts}
            timeZone={now?.event.timeZone ?? "UTC"}
            busy={busy}
            onTake={() => void take(step)}
          />
        ))}
      </View>
    </>
  );
}
