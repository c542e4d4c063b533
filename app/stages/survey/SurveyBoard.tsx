import type { Survey, UplinkSurvey } from "@ukaza/contract/survey";
import { type ReactNode, useState } from "react";
import { View } from "react-native";
import { useSurvey } from "../../data/hooks";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Loaded } from "../../ui/Loaded";
import { Overlay } from "../../ui/Overlay";
import { useWide } from "../../ui/useWide";
import { Words } from "../../ui/Words";
import { CarriesPanel } from "./CarriesPanel";
import { CompareSheet } from "./CompareSheet";
import { MeasurePanel } from "./MeasurePanel";
import { RegionsPanel } from "./RegionsPanel";
import { SpreadPanel } from "./SpreadPanel";
import type { SurveyScope } from "./scope";
import { surveyPath } from "./scope";
import { TestsPanel } from "./TestsPanel";
import { UplinkChooser } from "./UplinkChooser";
import { UplinkForm } from "./UplinkForm";
import { VerdictPanel } from "./VerdictPanel";
import { WindowField } from "./WindowField";

const parts = ["verdict", "measure", "carries", "tests"] as const;
type Part = (typeof parts)[number];
const partWord: Record<Part, string> = { verdict: "Verdict", measure: "Measure", carries: "Carries", tests: "Tests" };

/** The uplinks of a venue, and one of them in full: part by part on the phone, side by side when wide. */
export function SurveyBoard({
  venueId,
  eventId,
  children,
}: {
  venueId: string;
  eventId: string | null;
  /** What stands on top, given the survey and a way to the measuring part. */
  children?: (survey: Survey, measure: () => void) => ReactNode;
}) {
  const [hours, setHours] = useState<SurveyScope["hours"]>(null);
  const [chosen, setChosen] = useState<string | null>(null);
  const [part, setPart] = useState<Part>("verdict");
  const [adding, setAdding] = useState(false);
  const [comparing, setComparing] = useState(false);
  const scope: SurveyScope = { venueId, eventId, hours };
  return (
    <Loaded state={useSurvey(surveyPath(scope))}>
      {(survey) => {
        const shown = survey.uplinks.find((u) => u.uplink.id === chosen) ?? survey.uplinks[0];
        return (
          <>
            {children?.(survey, () => setPart("measure"))}
            <UplinkChooser survey={survey} shownId={shown?.uplink.id ?? null} onChoose={setChosen} />
            {shown ? (
              <OneUplink
                key={shown.uplink.id}
                shown={shown}
                survey={survey}
                scope={scope}
                part={part}
                onPart={setPart}
                onHours={setHours}
              />
            ) : (
              <Words kind="faded">
                An uplink is one way out of the venue. Add the first; its tests stay with the venue from event to event.
              </Words>
            )}
            <View className="flex-row flex-wrap gap-2">
              <Button onPress={() => setAdding(true)}>Add an uplink</Button>
              {survey.uplinks.length > 1 ? <Button onPress={() => setComparing(true)}>Compare two</Button> : null}
            </View>
            <Overlay title="A new uplink" open={adding} onClose={() => setAdding(false)}>
              <UplinkForm
                venueId={venueId}
                eventId={eventId}
                siblings={survey.uplinks.map((u) => u.uplink)}
                onDone={(id) => {
                  setAdding(false);
                  setChosen(id);
                }}
              />
            </Overlay>
            <Overlay title="Two uplinks side by side" open={comparing} onClose={() => setComparing(false)}>
              <CompareSheet survey={survey} />
            </Overlay>
          </>
        );
      }}
    </Loaded>
  );
}

function OneUplink({
  shown,
  survey,
  scope,
  part,
  onPart,
  onHours,
}: {
  shown: UplinkSurvey;
  survey: Survey;
  scope: SurveyScope;
  part: Part;
  onPart: (part: Part) => void;
  onHours: (hours: SurveyScope["hours"]) => void;
}) {
  const wide = useWide();
  const shownParts = {
    verdict: (
      <>
        <WindowField survey={survey} hours={scope.hours} onChange={onHours} />
        <VerdictPanel survey={shown} siblings={survey.uplinks.map((u) => u.uplink)} scope={scope} />
        <SpreadPanel survey={shown} />
      </>
    ),
    measure: <MeasurePanel survey={shown} show={survey.show} timeZone={survey.timeZone} all={survey.uplinks} />,
    carries: (
      <>
        <CarriesPanel survey={shown} />
        <RegionsPanel survey={shown} timeZone={survey.timeZone} />
      </>
    ),
    tests: <TestsPanel survey={shown} scope={scope} timeZone={survey.timeZone} />,
  };
  if (wide)
    return (
      <View className="flex-row items-start gap-4">
        <View className="min-w-0 flex-1 gap-4">
          {shownParts.verdict}
          {shownParts.carries}
        </View>
        <View className="w-[440px] gap-4">
          {shownParts.tests}
          {shownParts.measure}
        </View>
      </View>
    );
  return (
    <>
      <Choice
        label="Part of the survey"
        value={part}
        options={parts.map((value) => ({ value, word: partWord[value] }))}
        onChange={onPart}
      />
      {shownParts[part]}
    </>
  );
}
