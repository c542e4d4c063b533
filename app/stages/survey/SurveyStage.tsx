import { useRouter } from "expo-router";
import { useState } from "react";
import { View } from "react-native";
import { useEvent, useSurvey } from "../../data/hooks";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Loaded } from "../../ui/Loaded";
import { NextThing } from "../../ui/NextThing";
import { UplinkPanel } from "./UplinkPanel";

/** What the venue's lines will carry at show time. */
export function SurveyStage({ eventId }: { eventId: string }) {
  const router = useRouter();
  const { data: now } = useEvent(eventId);
  const [chosen, setChosen] = useState<string | null>(null);
  return (
    <Loaded state={useSurvey(eventId)}>
      {(surveys) => {
        const shown = surveys.find((s) => s.uplink.id === chosen) ?? surveys[0];
        const measured = surveys.some((s) => s.result.usableBps !== null);
        return (
          <>
            <NextThing
              sentence={
                measured
                  ? "The line is measured. Choose settings that it carries, or add more tests near show time."
                  : "Nothing is known about this line yet. Measure it, best of all at the hour of the show, and add the tests below."
              }
            >
              {measured ? (
                <Button look="main" onPress={() => router.push(`/events/${eventId}/fit`)}>
                  Go to Fit
                </Button>
              ) : null}
            </NextThing>
            {surveys.length > 1 && shown ? (
              <Choice
                label="Uplink"
                value={shown.uplink.id}
                options={surveys.map((s) => ({ value: s.uplink.id, word: s.uplink.name }))}
                onChange={setChosen}
              />
            ) : null}
            <View>{shown && now ? <UplinkPanel key={shown.uplink.id} survey={shown} event={now.event} /> : null}</View>
          </>
        );
      }}
    </Loaded>
  );
}
