import type { Finding } from "@ukaza/contract/findings";
import type { SettingsPatch } from "@ukaza/contract/settings";
import { View } from "react-native";
import { Button } from "../../ui/Button";
import { Panel } from "../../ui/Panel";
import { StateMark } from "../../ui/StateMark";
import { Words } from "../../ui/Words";
import { findingSentence, levelWord, mendText, ruleText } from "../../words/findings";

const shape = { blocks: "broken", risks: "strained", notes: "silent" } as const;

/** What speaks against the settings in hand, each with a mend of one tap. */
export function Findings({
  findings,
  fixed,
  onMend,
  onMendAll,
}: {
  findings: Finding[];
  fixed: boolean;
  onMend: (patch: SettingsPatch) => void;
  onMendAll: () => void;
}) {
  const mendable = fixed ? 0 : findings.filter((f) => f.mend !== null).length;
  if (findings.length === 0) {
    return (
      <Panel title="Findings">
        <StateMark health="steady" word="Nothing speaks against these settings" />
      </Panel>
    );
  }
  return (
    <Panel title={`Findings (${findings.length})`} aside={mendable > 1 ? <Button onPress={onMendAll}>Mend all</Button> : null}>
      <View role="list" className="gap-4">
        {findings.map((f) => {
          const mend = mendText(f);
          const { mend: patch } = f;
          return (
            <View key={`${f.code}${f.field}${f.rule.by}`} role="listitem" className="gap-2 border-b border-rule pb-3">
              <StateMark health={shape[f.level]} word={levelWord[f.level]} />
              <Words>{findingSentence(f)}</Words>
              <Words kind="small">{ruleText(f)}</Words>
              {mend && patch && !fixed ? (
                <Button className="self-start" onPress={() => onMend(patch)}>
                  {mend}
                </Button>
              ) : null}
            </View>
          );
        })}
      </View>
    </Panel>
  );
}
