import { useRouter } from "expo-router";
import { useEvent } from "../../data/hooks";
import { Button } from "../../ui/Button";
import { NextThing } from "../../ui/NextThing";
import { missingSentence } from "../../words/survey";
import { rateText } from "../../words/units";
import { SurveyBoard } from "./SurveyBoard";

/** What the venue's lines will carry at show time. */
export function SurveyStage({ eventId }: { eventId: string }) {
  const router = useRouter();
  const { data: now } = useEvent(eventId);
  if (!now) return null;
  return (
    <SurveyBoard venueId={now.event.venueId} eventId={eventId}>
      {(survey, measure) => {
        const best = survey.uplinks.reduce<(typeof survey.uplinks)[number] | null>(
          (top, u) => (u.result.usableBps !== null && u.result.usableBps > (top?.result.usableBps ?? -1) ? u : top),
          null,
        );
        if (!best)
          return (
            <NextThing sentence="Nothing is known about this line yet. Measure it now, and again at the hour of the show.">
              <Button look="main" onPress={measure}>
                Measure a line
              </Button>
            </NextThing>
          );
        const missing = missingSentence(best.result);
        return (
          <NextThing
            sentence={`${best.uplink.name} gives ${rateText(best.result.usableBps ?? 0)} at show time${missing ? `. ${missing}` : ", and its tests say so with certainty."}`}
          >
            <Button look="main" onPress={() => router.push(`/events/${eventId}/fit`)}>
              Go to Fit
            </Button>
          </NextThing>
        );
      }}
    </SurveyBoard>
  );
}
