import type { EventNow, Stage, StageState } from "@ukaza/contract/event";
import { Link } from "expo-router";
import { Text, View } from "react-native";
import Svg, { Circle, Path } from "react-native-svg";
import { useTheme } from "../theme/ThemeProvider";
import { stageOrder, stageWord, stateWord } from "../words/stages";
import { useWide } from "./useWide";

/** The mark of a stage's state: ring, dotted ring, tick, exclamation. */
function StageMark({ state }: { state: StageState }) {
  const { colour } = useTheme();
  const ink = state === "needs you" ? colour.strained : state === "not begun" ? colour.faded : colour.deep;
  return (
    <Svg width={18} height={18} viewBox="0 0 18 18" aria-hidden>
      <Circle
        cx={9}
        cy={9}
        r={7.5}
        fill={state === "done" ? ink : "none"}
        stroke={ink}
        strokeWidth={1.8}
        strokeDasharray={state === "not begun" ? "2.4 2.4" : undefined}
      />
      {state === "done" ? <Path d="M5 9.4 L8 12.2 L13 6.2" fill="none" stroke={colour["on-deep"]} strokeWidth={2} /> : null}
      {state === "under way" ? <Circle cx={9} cy={9} r={3} fill={ink} /> : null}
      {state === "needs you" ? <Path d="M9 4.8 V10 M9 11.8 V13.2" stroke={ink} strokeWidth={2} /> : null}
    </Svg>
  );
}

/** Six stops with their states; tap to go. Along the top on the phone, down the left when wide. */
export function StageRail({ now, here }: { now: EventNow; here: Stage }) {
  const wide = useWide();
  return (
    <View role="navigation" aria-label="Stages" className={wide ? "w-[190px] gap-1 pt-2" : "flex-row justify-between border-b border-rule"}>
      {stageOrder.map((stage) => {
        const chosen = stage === here;
        const state = now.stages[stage];
        return (
          <Link
            key={stage}
            href={`/events/${now.event.id}/${stage}`}
            aria-label={`${stageWord[stage]}: ${stateWord[state]}`}
            aria-current={chosen ? "step" : undefined}
            asChild
          >
            <View
              role="link"
              tabIndex={0}
              className={
                wide
                  ? `min-h-[44px] flex-row items-center gap-3 rounded border-l-4 px-3 ${chosen ? "border-deep bg-sheet" : "border-transparent"}`
                  : `min-h-[56px] min-w-[52px] items-center justify-center gap-1 border-b-4 ${chosen ? "border-deep" : "border-transparent"}`
              }
            >
              <StageMark state={state} />
              <View>
                <Text className={`${wide ? "text-base" : "text-sm"} ${chosen ? "font-strong text-ink" : "font-words text-faded"}`}>
                  {stageWord[stage]}
                </Text>
                {wide ? <Text className="font-words text-sm text-faded">{stateWord[state]}</Text> : null}
              </View>
            </View>
          </Link>
        );
      })}
    </View>
  );
}
