import type { RunSheet } from "@ukaza/contract/lineup";
import { useRouter } from "expo-router";
import { View } from "react-native";
import { useSWRConfig } from "swr";
import { send } from "../../data/api";
import { useEvent, useLineup, useOrder, useReport, useRig } from "../../data/hooks";
import { Button } from "../../ui/Button";
import { Loaded } from "../../ui/Loaded";
import { NextThing } from "../../ui/NextThing";
import { Panel } from "../../ui/Panel";
import { ProblemNote } from "../../ui/Problem";
import { Words } from "../../ui/Words";
import { wrapOrderSentence } from "../../words/lineup";
import { StepRow } from "../lineup/StepRow";
import { ReportView } from "./ReportView";

/** Ending in the right order, and then the report. */
export function WrapStage({ eventId }: { eventId: string }) {
  const router = useRouter();
  const { mutate } = useSWRConfig();
  const { data: now } = useEvent(eventId);
  const { data: rig } = useRig(eventId);
  const report = useReport(eventId);
  const { busy, error, run } = useOrder();
  const take = async (id: string, irreversible: boolean) => {
    const next = await run(() => send<RunSheet>("POST", `/events/${eventId}/lineup/steps/${id}`, irreversible ? { confirm: id } : {}));
    if (next) await mutate((key) => typeof key === "string" && key.startsWith(`/events/${eventId}`));
  };
  return (
    <Loaded state={useLineup(eventId)}>
      {(sheet) => {
        const platform = rig?.platformName ?? "the platform";
        const steps = sheet.steps.filter((s) => s.id === "end" || s.id === "stop");
        const { publicAt, endedAt, stoppedAt } = sheet.facts;
        const sentence =
          publicAt === null
            ? "Nothing has been public yet, so there is nothing to wrap up."
            : endedAt !== null && stoppedAt !== null
              ? "Done. Everything is off, and the report is below."
              : wrapOrderSentence(sheet.endsFirst, platform);
        return (
          <>
            <NextThing sentence={sentence}>
              {publicAt === null ? (
                <Button look="main" onPress={() => router.push(`/events/${eventId}/${now?.next ?? "survey"}`)}>
                  Go to what comes next
                </Button>
              ) : null}
              <ProblemNote error={error} />
            </NextThing>
            {publicAt !== null ? (
              <Panel title="In this order">
                <View role="list">
                  {steps.map((step, i) => (
                    <StepRow
                      key={step.id}
                      step={step}
                      place={i + 1}
                      platform={platform}
                      facts={sheet.facts}
                      timeZone={now?.event.timeZone ?? "UTC"}
                      busy={busy}
                      onTake={() => void take(step.id, step.irreversible)}
                    />
                  ))}
                </View>
              </Panel>
            ) : null}
            {publicAt !== null ? (
              <Loaded state={report}>{(r) => <ReportView report={r} />}</Loaded>
            ) : (
              <Words kind="faded">
                The report compares what was planned with what happened: duration, availability, incidents, bitrates and data.
              </Words>
            )}
          </>
        );
      }}
    </Loaded>
  );
}
