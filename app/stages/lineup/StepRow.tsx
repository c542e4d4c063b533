import type { LineupFacts, Step } from "@ukaza/contract/lineup";
import { View } from "react-native";
import Svg, { Circle, Path } from "react-native-svg";
import { useTheme } from "../../theme/ThemeProvider";
import { Button } from "../../ui/Button";
import { HoldButton } from "../../ui/HoldButton";
import { useNow } from "../../ui/useNow";
import { Words } from "../../ui/Words";
import { stepAction, stepSentence, stepTitle, verdictText } from "../../words/lineup";
import { timeText } from "../../words/units";

interface Props {
  step: Step;
  place: number;
  platform: string;
  facts: LineupFacts;
  timeZone: string;
  busy: boolean;
  onTake: () => void;
}

const stateWord: Record<Step["state"], string> = {
  locked: "Not yet",
  ready: "Now",
  waiting: "Waiting",
  late: "Late",
  failed: "Refused",
  done: "Done",
};

function StepMark({ state }: { state: Step["state"] }) {
  const { colour } = useTheme();
  const ink = state === "failed" ? colour.broken : state === "late" ? colour.strained : state === "locked" ? colour.faded : colour.deep;
  return (
    <Svg width={22} height={22} viewBox="0 0 22 22" aria-hidden>
      <Circle
        cx={11}
        cy={11}
        r={9.5}
        fill={state === "done" ? ink : "none"}
        stroke={ink}
        strokeWidth={2}
        strokeDasharray={state === "locked" ? "3 3" : undefined}
      />
      {state === "done" ? <Path d="M6 11.5 L9.6 15 L16 7.6" fill="none" stroke={colour["on-deep"]} strokeWidth={2.4} /> : null}
      {state === "ready" ? <Circle cx={11} cy={11} r={4} fill={ink} /> : null}
      {state === "waiting" || state === "late" ? <Path d="M11 5.5 V11 L15 13" fill="none" stroke={ink} strokeWidth={2} /> : null}
      {state === "failed" ? <Path d="M7 7 L15 15 M15 7 L7 15" stroke={ink} strokeWidth={2.2} /> : null}
    </Svg>
  );
}

/** Steps that are held even where they can be taken back, and why. */
const held: Partial<Record<Step["id"], string>> = {
  public: "Viewers see it from this moment.",
  end: "Viewers see the end.",
  stop: "Every feed of this event stops.",
};

/** One step: its state as mark and word, what it means, and the way to take it when its turn has come. */
export function StepRow({ step, place, platform, facts, timeZone, busy, onTake }: Props) {
  const action = stepAction[step.id];
  const open = step.state !== "done" && step.state !== "locked";
  return (
    <View role="listitem" testID={`step-${step.id}`} className="flex-row gap-3 border-b border-rule py-3">
      <View className="pt-0.5">
        <StepMark state={step.state} />
      </View>
      <View className="min-w-0 flex-1 gap-1">
        <View className="flex-row items-baseline justify-between gap-2">
          <Words kind={step.state === "locked" ? "faded" : "strong"} className="shrink">{`${place}. ${stepTitle[step.id]}`}</Words>
          <Words kind="small">{step.doneAt ? timeText(step.doneAt, timeZone, true) : stateWord[step.state]}</Words>
        </View>
        {open || step.irreversible ? <Words kind="faded">{stepSentence(step, platform)}</Words> : null}
        {step.state === "waiting" || step.state === "late" ? <Waiting step={step} /> : null}
        {step.id === "verdict" && facts.verdict ? (
          <Words
            kind="strong"
            tone={facts.verdict === "good" ? "text-steady" : "text-strained"}
          >{`Verdict ${verdictText(facts.verdict, facts.verdictReason)}`}</Words>
        ) : null}
        {step.state === "locked" && step.missing.length > 0 ? (
          <Words kind="small">{`First: ${step.missing.map((m) => stepTitle[m].toLowerCase()).join(", ")}.`}</Words>
        ) : null}
        {step.state === "ready" && action ? (
          step.irreversible || held[step.id] ? (
            <HoldButton warning={step.irreversible ? "This cannot be taken back." : (held[step.id] ?? "")} busy={busy} onConfirm={onTake}>
              {action}
            </HoldButton>
          ) : (
            <Button look="main" className="self-start" busy={busy} onPress={onTake}>
              {action}
            </Button>
          )
        ) : null}
      </View>
    </View>
  );
}

/** The expected wait, counting. */
function Waiting({ step }: { step: Step }) {
  const now = useNow();
  const waitedS = step.waitingSince ? Math.max(0, Math.round((now - Date.parse(step.waitingSince)) / 1000)) : 0;
  const typicalS = step.typicalS ?? 0;
  const late = step.longestS !== null && waitedS > step.longestS;
  return (
    <View className="gap-1">
      <Words tone={late ? "text-strained" : "text-ink"} testID="waiting">
        {late
          ? `Usually there after ${typicalS} s, at most ${step.longestS} s; ${waitedS} s so far. Something is in the way.`
          : `Usually there after ${typicalS} s; ${waitedS} s so far.`}
      </Words>
      <View className="h-2 overflow-hidden rounded-full bg-rule" aria-hidden>
        <View
          className={late ? "h-2 bg-strained" : "h-2 bg-deep"}
          style={{ width: `${Math.min(100, (waitedS / Math.max(1, typicalS)) * 100)}%` }}
        />
      </View>
    </View>
  );
}
