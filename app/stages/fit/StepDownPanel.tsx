import type { FitProblem } from "@ukaza/contract/fit";
import type { WholePlan } from "@ukaza/contract/fitPlan";
import { oncePublic } from "@ukaza/core/fit/asked";
import { planRows, worthwhileBps } from "@ukaza/core/fit/planSteps";
import { useState } from "react";
import { View } from "react-native";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Panel } from "../../ui/Panel";
import { ProblemNote } from "../../ui/Problem";
import { ProgressBar } from "../../ui/ProgressBar";
import { Words } from "../../ui/Words";
import { type Names, stepRowText } from "../../words/plan";
import { rateText } from "../../words/units";
import { usePlanJob } from "../../workers/usePlanJob";

const SCOPES = [
  { value: "before", word: "Before public" },
  { value: "public", word: "Once public" },
] as const;

/** What to fall to as a line sinks, worked out beforehand; once public only what the platforms leave free moves. */
export function StepDownPanel({ problem, plan, names }: { problem: FitProblem; plan: WholePlan; names: Names }) {
  const carrying = plan.uplinks.flatMap((u) => (u.loadBps > 0 ? [u.uplinkId] : []));
  const [picked, setPicked] = useState<string | null>(null);
  const [scope, setScope] = useState<(typeof SCOPES)[number]["value"]>("before");
  /** The problem that it was asked for: another one is asked for anew. */
  const [askedFor, setAskedFor] = useState<string | null>(null);
  const uplinkId = picked && carrying.includes(picked) ? picked : carrying[0];
  const sinking = scope === "public" ? oncePublic(problem, plan) : problem;
  const key = JSON.stringify([sinking, uplinkId]);
  const { share, found, error } = usePlanJob("steps", uplinkId && askedFor === key ? { kind: "steps", problem: sinking, uplinkId } : null);
  if (!uplinkId) return null;
  const leastBps = worthwhileBps(problem.uplinks.find((u) => u.id === uplinkId)?.usableBps ?? 0);
  const rows = found ? planRows(found.steps, leastBps) : [];
  const last = rows.at(-1)?.bottom;
  return (
    <Panel title="If the line sinks">
      {carrying.length > 1 ? (
        <Choice
          label="Which line"
          value={uplinkId}
          options={carrying.map((id) => ({ value: id, word: names.uplink(id) }))}
          onChange={setPicked}
        />
      ) : null}
      <Choice label="When" value={scope} options={SCOPES} onChange={setScope} />
      {found ? (
        rows.length === 0 ? (
          <Words kind="faded">
            {scope === "public"
              ? "With what is frozen once public, this plan has no room on this line at all."
              : "With what was set by hand, no plan has room on this line at all."}
          </Words>
        ) : (
          <View role="list" aria-label={`Step-downs of ${names.uplink(uplinkId)}`}>
            {rows.map((row, i) => {
              const { rate, what } = stepRowText(row, rows[i - 1] ?? null, names);
              return (
                <View key={row.top.fromBps} role="listitem" className="border-b border-rule py-1">
                  {what.map((text) => (
                    <Words key={text} kind="strong">
                      {text}
                    </Words>
                  ))}
                  <Words kind="small">{`Holds ${rate} usable.`}</Words>
                </View>
              );
            })}
          </View>
        )
      ) : share !== null ? (
        <>
          <ProgressBar share={share} label="Working out the step-downs" />
          <Button className="self-start" onPress={() => setAskedFor(null)}>
            Stop
          </Button>
        </>
      ) : (
        <Button className="self-start" onPress={() => setAskedFor(key)}>
          Work out the step-downs
        </Button>
      )}
      <ProblemNote error={error} />
      {last && last.fromBps > 0 ? (
        <Words kind="small">{`Below ${rateText(last.fromBps)} on ${names.uplink(uplinkId)} these demands cannot hold together.`}</Words>
      ) : null}
      {found && rows.length > 0 ? (
        <Words kind="small">{`Plans that hold for less than ${rateText(leastBps)} of the line are left out.`}</Words>
      ) : null}
      {found?.steps.some((s) => !s.proved) ? (
        <Words kind="small">Some of these searches were cut short: there may be a better plan at a rate.</Words>
      ) : null}
    </Panel>
  );
}
