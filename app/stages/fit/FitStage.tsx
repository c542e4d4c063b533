import { asMeasured, isSupposed, reserveOf, supposed } from "@ukaza/core/fit/whatIf";
import { useRouter } from "expo-router";
import { useState } from "react";
import { View } from "react-native";
import { useFit } from "../../data/hooks";
import { Button } from "../../ui/Button";
import { Loaded } from "../../ui/Loaded";
import { NextThing } from "../../ui/NextThing";
import { Words } from "../../ui/Words";
import { conflictSentence } from "../../words/fit";
import { useFitAnswer } from "../../workers/useFitAnswer";
import { FitBoard } from "./FitBoard";
import { WhatIfPanel } from "./WhatIfPanel";

/** The best settings under line, rule sheet, encoder and camera, and what else there is. */
export function FitStage({ eventId }: { eventId: string }) {
  const router = useRouter();
  const fit = useFit(eventId);
  const [whatIf, setWhatIf] = useState(asMeasured);
  const measured = fit.data?.problem ?? null;
  const sustainable = fit.data?.sustainableBps;
  const problem = measured && sustainable ? supposed(measured, sustainable, whatIf) : null;
  const answer = useFitAnswer(problem);
  return (
    <Loaded state={fit}>
      {(now) => {
        if (!now.problem || !problem) {
          return (
            <NextThing sentence="Nothing is fitted to an unknown line. Measure it first.">
              <Button look="main" onPress={() => router.push(`/events/${eventId}/survey`)}>
                Go to Survey
              </Button>
            </NextThing>
          );
        }
        if (!answer) return <Words kind="faded">Working out the best settings…</Words>;
        const sliders = now.fixed ? null : (
          <WhatIfPanel whatIf={whatIf} ownReserve={reserveOf(now.problem, now.sustainableBps)} onChange={setWhatIf} />
        );
        if (answer.kind === "none") {
          return (
            <>
              <NextThing sentence="These demands cannot hold together:">
                <View>
                  {answer.conflict.map((c) => (
                    <Words key={JSON.stringify(c)}>{`• ${conflictSentence(c, (id) => now.uplinkNames[id] ?? id)}`}</Words>
                  ))}
                </View>
              </NextThing>
              {sliders}
            </>
          );
        }
        const lines = Object.entries(now.sustainableBps).map(([id, bps]) => [id, bps * whatIf.lineShare]);
        const then = { ...now, sustainableBps: Object.fromEntries(lines) };
        return (
          <FitBoard eventId={eventId} now={then} problem={problem} answer={answer} supposing={isSupposed(whatIf)}>
            {sliders}
          </FitBoard>
        );
      }}
    </Loaded>
  );
}
