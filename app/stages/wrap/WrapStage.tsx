import { useRouter } from "expo-router";
import { useEvent, useLineup, useReport, useRig } from "../../data/hooks";
import { Button } from "../../ui/Button";
import { Loaded } from "../../ui/Loaded";
import { NextThing } from "../../ui/NextThing";
import { Panel } from "../../ui/Panel";
import { Words } from "../../ui/Words";
import { wrapOrderSentence } from "../../words/lineup";
import { StepList } from "../lineup/StepList";
import { ReportView } from "./ReportView";

/** Ending in the right order, and then the report. */
export function WrapStage({ eventId }: { eventId: string }) {
  const router = useRouter();
  const { data: now } = useEvent(eventId);
  const { data: rig } = useRig(eventId);
  const report = useReport(eventId);
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
            </NextThing>
            {publicAt !== null ? (
              <Panel title="In this order">
                <StepList eventId={eventId} steps={steps} facts={sheet.facts} />
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
