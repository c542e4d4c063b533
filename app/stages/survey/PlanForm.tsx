import type { Survey, UplinkSurvey } from "@ukaza/contract/survey";
import { nearShowCount } from "@ukaza/core/survey/testPlan";
import { useState } from "react";
import { View } from "react-native";
import { send } from "../../data/api";
import { useOrder } from "../../data/hooks";
import { useRefreshLines } from "../../data/useRefresh";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Field } from "../../ui/Field";
import { ProblemNote } from "../../ui/Problem";
import { Words } from "../../ui/Words";
import { costSentence, missingSentence, testsText } from "../../words/survey";
import { clockText, percent, timeText } from "../../words/units";
import { planTimes, type TypedPlan } from "./planTimes";

/** Tests at times to come, with what they would cost and what they would prove. */
export function PlanForm({
  survey,
  show,
  timeZone,
  expectedBps,
  onDone,
}: {
  survey: UplinkSurvey;
  show: Survey["show"];
  timeZone: string;
  expectedBps: number;
  onDone: () => void;
}) {
  const { uplink, result } = survey;
  const refresh = useRefreshLines();
  const { busy, error, run } = useOrder();
  const [plan, setPlan] = useState<TypedPlan>(() => ({
    kind: "every",
    from: clockText(result.window.fromMinute),
    until: clockText(result.window.untilMinute),
    everyMin: "15",
    list: "",
    days: "today",
  }));
  const set = (change: Partial<TypedPlan>) => setPlan({ ...plan, ...change });
  const planned = planTimes(plan, show, timeZone, Date.now());
  const missing = missingSentence(result);
  const save = async () => {
    if ("wrong" in planned) return;
    const at = planned.times.map((ms) => new Date(ms).toISOString());
    if (!(await run(() => send("POST", `/uplinks/${uplink.id}/tests`, { kind: "plan", at })))) return;
    await refresh();
    onDone();
  };
  return (
    <>
      {missing ? (
        <Words kind="strong">{missing}</Words>
      ) : (
        <Words>This line is as well measured as the survey asks for. More tests keep it so.</Words>
      )}
      <Choice
        label="How the times are given"
        value={plan.kind}
        options={[
          { value: "every", word: "Every so many minutes" },
          { value: "list", word: "At these times" },
        ]}
        onChange={(kind) => set({ kind })}
      />
      {plan.kind === "every" ? (
        <>
          <View className="flex-row gap-3">
            <View className="flex-1">
              <Field label="From" value={plan.from} onChange={(from) => set({ from })} />
            </View>
            <View className="flex-1">
              <Field label="Until" value={plan.until} onChange={(until) => set({ until })} />
            </View>
          </View>
          <Field label="Every" unit="minutes" numeric value={plan.everyMin} onChange={(everyMin) => set({ everyMin })} />
        </>
      ) : (
        <Field label="Times on the venue's clock" hint="18:00, 18:30, 19:15" value={plan.list} onChange={(list) => set({ list })} />
      )}
      <Choice
        label="On which days"
        value={plan.days}
        options={[
          { value: "today", word: "Today" },
          { value: "until the show", word: "Each day until the show" },
        ]}
        onChange={(days) => set({ days })}
      />
      {"wrong" in planned ? (
        <Words tone="text-broken">{planned.wrong}</Words>
      ) : (
        <>
          <Words testID="plan">{`${gainSentence(planned.times, survey, show, timeZone)} ${costSentence(planned.times.length, expectedBps, uplink.metered)}`}</Words>
          <Words kind="small">{`First at ${timeText(new Date(planned.times[0] ?? 0).toISOString(), timeZone)}. They run by themselves while the server is up, and leave out the line while a feed is on it.`}</Words>
        </>
      )}
      <ProblemNote error={error} />
      <Button look="main" busy={busy} disabled={"wrong" in planned} onPress={() => void save()}>
        Plan these tests
      </Button>
    </>
  );
}

/** What a plan would prove. */
function gainSentence(times: number[], { result }: UplinkSurvey, show: Survey["show"], timeZone: string): string {
  const { near, sameKind } = nearShowCount(times, { show, timeZone });
  const count = `${testsText(times.length)}, ${near} near show time.`;
  const { next } = result;
  if (!next) return count;
  if (sameKind >= next.more) return `${count} That is enough for the next level: a reserve of ${percent(next.reserve)}.`;
  return `${count} ${next.more - sameKind} more would still be missing for the next level.`;
}
