import { withAsked } from "@ukaza/core/fit/asked";
import { asMeasured, isSupposed, reserveOf, supposed } from "@ukaza/core/fit/whatIf";
import { useRouter } from "expo-router";
import { useState } from "react";
import { View } from "react-native";
import { useEvent, useFit } from "../../data/hooks";
import { Button } from "../../ui/Button";
import { Loaded } from "../../ui/Loaded";
import { NextThing } from "../../ui/NextThing";
import { ProblemNote } from "../../ui/Problem";
import { Words } from "../../ui/Words";
import { demandSentence, namesOf } from "../../words/plan";
import { usePlanAnswer } from "../../workers/usePlanAnswer";
import { DestinationCards } from "./DestinationCards";
import { FitBoard } from "./FitBoard";
import { useDemands } from "./useDemands";
import { WhatIfPanel } from "./WhatIfPanel";

/** The best use of the lines for all destinations at once; what is asked for is changed here, and everything moves along. */
export function FitStage({ eventId }: { eventId: string }) {
  const router = useRouter();
  const fit = useFit(eventId);
  const event = useEvent(eventId).data?.event ?? null;
  const { demands, error: refused, ask } = useDemands(eventId);
  const [whatIf, setWhatIf] = useState(asMeasured);
  const measured = fit.data?.problem && demands ? withAsked(fit.data.problem, demands, fit.data.spare) : null;
  const sustainable = fit.data?.sustainableBps;
  const { answered, busy, error: failed } = usePlanAnswer(measured && sustainable ? supposed(measured, sustainable, whatIf) : null);
  const error = refused ?? failed;
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
        if (!answered || !demands || !event)
          return failed ? <ProblemNote error={failed} /> : <Words kind="faded">Working out the best plan…</Words>;
        const sliders = now.fixed ? null : (
          <WhatIfPanel whatIf={whatIf} ownReserve={reserveOf(now.problem, now.sustainableBps)} onChange={setWhatIf} />
        );
        const { problem, answer } = answered;
        const names = namesOf(problem, now.uplinkNames);
        if (answer.kind === "none") {
          const sentence =
            answer.conflict.length > 0 ? "These demands cannot hold together:" : "No plan was found before the search was stopped.";
          return (
            <>
              <NextThing sentence={sentence}>
                <View>
                  {answer.conflict.map((d) => (
                    <Words key={JSON.stringify(d)}>{`• ${demandSentence(d, names)}`}</Words>
                  ))}
                </View>
                <Words kind="faded">Let one of them go, or change the line. Nothing that was chosen before is lost.</Words>
                <ProblemNote error={error} />
              </NextThing>
              <DestinationCards problem={problem} plan={null} demands={demands} names={names} laidOver={[]} fixed={now.fixed} onAsk={ask} />
              {sliders}
            </>
          );
        }
        const lines = Object.entries(now.sustainableBps).map(([id, bps]) => [id, bps * whatIf.lineShare]);
        return (
          <FitBoard
            event={event}
            now={{ ...now, sustainableBps: Object.fromEntries(lines) }}
            answered={{ ...answered, answer }}
            demands={demands}
            supposing={isSupposed(whatIf)}
            busy={busy}
            onAsk={ask}
            sliders={sliders}
            problemNote={<ProblemNote error={error} />}
          />
        );
      }}
    </Loaded>
  );
}
