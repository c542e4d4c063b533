import type { Insights, WholePlan } from "@ukaza/contract/fitPlan";
import { View } from "react-native";
import type { ApiError } from "../../data/api";
import { Button } from "../../ui/Button";
import { Panel } from "../../ui/Panel";
import { ProblemNote } from "../../ui/Problem";
import { ProgressBar } from "../../ui/ProgressBar";
import { Words } from "../../ui/Words";
import { insightSentences, insightsUnproved, type Names, runnerUpSentence } from "../../words/plan";

/** What more or less of something would be worth, and the plans that differ in kind. */
export function InsightsPanel({
  share,
  insights,
  error,
  names,
  fixed,
  onTake,
}: {
  share: number | null;
  insights: Insights | null;
  error: ApiError | null;
  names: Names;
  fixed: boolean;
  onTake: (plan: WholePlan) => void;
}) {
  if (!insights && !error && share === null) return null;
  return (
    <Panel title="What would change it">
      {insights ? (
        <>
          <View role="list">
            {insightSentences(insights, names).map((text) => (
              <View key={text} role="listitem">
                <Words>{text}</Words>
              </View>
            ))}
          </View>
          {insights.runnersUp.length > 0 ? (
            <View role="list" aria-label="Other ways" className="gap-3 border-t border-rule pt-2">
              {insights.runnersUp.map((r) => (
                <View key={runnerUpSentence(r, names)} role="listitem" className="gap-1">
                  <Words>{runnerUpSentence(r, names)}</Words>
                  {fixed ? null : (
                    <Button className="self-start" label={`Take up ${runnerUpSentence(r, names)}`} onPress={() => onTake(r.plan)}>
                      Take it up
                    </Button>
                  )}
                </View>
              ))}
            </View>
          ) : null}
          {insights.proved ? null : <Words kind="small">{insightsUnproved}</Words>}
          <Words kind="small">In points: each destination's picture score times its weight. The score is a rule of thumb.</Words>
        </>
      ) : error ? (
        <ProblemNote error={error} />
      ) : (
        <ProgressBar share={share ?? 0} label="Working out what more of each thing would give" />
      )}
    </Panel>
  );
}
