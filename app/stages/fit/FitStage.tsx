import { useRouter } from "expo-router";
import { View } from "react-native";
import { useFit } from "../../data/hooks";
import { Button } from "../../ui/Button";
import { Loaded } from "../../ui/Loaded";
import { NextThing } from "../../ui/NextThing";
import { Words } from "../../ui/Words";
import { conflictSentence } from "../../words/fit";
import { useFitAnswer } from "../../workers/useFitAnswer";
import { FitBoard } from "./FitBoard";

/** The best settings under line, rule sheet, encoder and camera, and what else there is. */
export function FitStage({ eventId }: { eventId: string }) {
  const router = useRouter();
  const fit = useFit(eventId);
  const answer = useFitAnswer(fit.data?.problem ?? null);
  return (
    <Loaded state={fit}>
      {(now) => {
        if (!now.problem) {
          return (
            <NextThing sentence="Nothing is fitted to an unknown line. Measure it first.">
              <Button look="main" onPress={() => router.push(`/events/${eventId}/survey`)}>
                Go to Survey
              </Button>
            </NextThing>
          );
        }
        if (!answer) return <Words kind="faded">Working out the best settings…</Words>;
        if (answer.kind === "none") {
          return (
            <NextThing sentence="These demands cannot hold together:">
              <View>
                {answer.conflict.map((c) => (
                  <Words key={JSON.stringify(c)}>{`• ${conflictSentence(c, (id) => now.uplinkNames[id] ?? id)}`}</Words>
                ))}
              </View>
            </NextThing>
          );
        }
        return <FitBoard eventId={eventId} now={now} problem={now.problem} answer={answer} />;
      }}
    </Loaded>
  );
}
