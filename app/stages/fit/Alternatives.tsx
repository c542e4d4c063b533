import type { FitAnswer, Plan } from "@ukaza/contract/fit";
import type { Settings } from "@ukaza/contract/settings";
import { useState } from "react";
import { Pressable, Text, View } from "react-native";
import { Button } from "../../ui/Button";
import { Panel } from "../../ui/Panel";
import { Words } from "../../ui/Words";
import { limitWord, planTitle, refusedSentence, scoreText } from "../../words/fit";
import { rateText } from "../../words/units";

const FIRST = 5;

interface Props {
  answer: FitAnswer & { kind: "fit" };
  current: Settings;
  fixed: boolean;
  onPick: (settings: Settings) => void;
}

/** Every other size and rate at its best bitrate, ranked by score; and what does not fit, with why. */
export function Alternatives({ answer, current, fixed, onPick }: Props) {
  const [all, setAll] = useState(false);
  const plans = [answer.best, ...answer.alternatives];
  return (
    <Panel title="Alternatives, best first">
      <View role="list">
        {(all ? plans : plans.slice(0, FIRST)).map((p, i) => (
          <PlanRow
            key={planTitle(p.settings)}
            plan={p}
            place={i + 1}
            chosen={planTitle(p.settings) === planTitle(current)}
            fixed={fixed}
            onPick={() => onPick(p.settings)}
          />
        ))}
      </View>
      {plans.length > FIRST ? <Button onPress={() => setAll(!all)}>{all ? "Show fewer" : `Show all ${plans.length}`}</Button> : null}
      {answer.refused.length > 0 ? (
        <View className="gap-1 border-t border-rule pt-2">
          <Words kind="strong">Do not fit</Words>
          {answer.refused.map((r) => (
            <Words key={planTitle(r)} kind="small">{`${planTitle(r)}: ${refusedSentence(r)}`}</Words>
          ))}
        </View>
      ) : null}
    </Panel>
  );
}

function PlanRow({
  plan,
  place,
  chosen,
  fixed,
  onPick,
}: {
  plan: Plan;
  place: number;
  chosen: boolean;
  fixed: boolean;
  onPick: () => void;
}) {
  const title = planTitle(plan.settings);
  return (
    <View role="listitem">
      <Pressable
        role="button"
        aria-label={`${place}. ${title} at ${rateText(plan.settings.videoBps)}, score ${scoreText(plan)}, ends at: ${limitWord[plan.bound]}${chosen ? ", in hand" : ""}`}
        disabled={fixed}
        onPress={onPick}
        className={`min-h-[52px] flex-row items-center justify-between gap-3 border-b border-rule py-1 ${chosen ? "border-l-4 border-l-deep pl-2" : "pl-3"}`}
      >
        <View className="shrink">
          <Text className={`${chosen ? "font-strong" : "font-words"} text-base text-ink`}>{title}</Text>
          <Text className="font-words text-sm text-faded">{`${rateText(plan.settings.videoBps)}, ends at: ${limitWord[plan.bound].toLowerCase()}`}</Text>
        </View>
        <Text className="font-figures-strong text-lg text-ink">{scoreText(plan)}</Text>
      </Pressable>
    </View>
  );
}
