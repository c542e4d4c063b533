import type { FitProblem } from "@ukaza/contract/fit";
import type { Settings } from "@ukaza/contract/settings";
import { frozenFields, stepDownRows, stepDowns, worthFallingTo } from "@ukaza/core/fit/stepDowns";
import { useMemo, useState } from "react";
import { View } from "react-native";
import { Choice } from "../../ui/Choice";
import { Panel } from "../../ui/Panel";
import { Words } from "../../ui/Words";
import { stepDownText } from "../../words/budgets";
import { rateText } from "../../words/units";

const SCOPES = [
  { value: "before", word: "Before public" },
  { value: "public", word: "Once public" },
] as const;

/** What to fall to as a line sinks, worked out beforehand; once public only what the platform leaves free moves. */
export function StepDownPanel({
  problem,
  settings,
  uplinkIds,
  names,
}: {
  problem: FitProblem;
  settings: Settings;
  uplinkIds: string[];
  names: Record<string, string>;
}) {
  const [asked, setAsked] = useState<string | null>(null);
  const [scope, setScope] = useState<(typeof SCOPES)[number]["value"]>("before");
  const uplinkId = asked && uplinkIds.includes(asked) ? asked : uplinkIds[0];
  const [destination] = problem.destinations;
  const rows = useMemo(() => {
    if (!uplinkId || !destination) return [];
    const keep = scope === "public" ? Object.fromEntries(frozenFields(destination.sheet).map((field) => [field, settings[field]])) : {};
    return worthFallingTo(stepDownRows(stepDowns(problem, uplinkId, keep)));
  }, [problem, uplinkId, destination, scope, settings]);
  if (!uplinkId) return null;
  const name = (id: string) => names[id] ?? id;
  const last = rows.at(-1)?.bottom;
  return (
    <Panel title="If the line sinks">
      {uplinkIds.length > 1 ? (
        <Choice label="Which line" value={uplinkId} options={uplinkIds.map((id) => ({ value: id, word: name(id) }))} onChange={setAsked} />
      ) : null}
      <Choice label="When" value={scope} options={SCOPES} onChange={setScope} />
      {rows.length === 0 ? (
        <Words kind="faded">With what is frozen once public, these settings have no room on this line at all.</Words>
      ) : (
        <View role="list" aria-label={`Step-downs of ${name(uplinkId)}`}>
          {rows.map((row) => {
            const { rate, what } = stepDownText(row, name);
            return (
              <View key={`${row.top.fromBps}${what}`} role="listitem" className="border-b border-rule py-1">
                <Words kind="strong">{what}</Words>
                <Words kind="small">{`Holds ${rate} usable.`}</Words>
              </View>
            );
          })}
        </View>
      )}
      {last && last.fromBps > 0 ? <Words kind="small">{`Below ${rateText(last.fromBps)} on ${name(uplinkId)} nothing fits.`}</Words> : null}
    </Panel>
  );
}
