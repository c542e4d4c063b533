import type { EventPlan } from "@ukaza/contract/eventPlan";
import type { WholePlan } from "@ukaza/contract/fitPlan";
import { comparePlans } from "@ukaza/core/fit/comparePlans";
import type { ReactNode } from "react";
import { View } from "react-native";
import { Overlay } from "../../ui/Overlay";
import { Words } from "../../ui/Words";
import { differenceText, type Names } from "../../words/plan";
import { rateText } from "../../words/units";

/** A kept plan beside the one in hand, field by field and by score. */
export function ComparePlans({
  kept,
  plan,
  names,
  onClose,
}: {
  kept: EventPlan | null;
  plan: WholePlan;
  names: Names;
  onClose: () => void;
}) {
  const compared = kept ? comparePlans(kept.plan, plan) : null;
  const score = (q: number | null) => (q === null ? "not served" : q.toFixed(0));
  return (
    <Overlay title={kept ? `${kept.name} and the plan in hand` : ""} open={kept !== null} onClose={onClose}>
      {compared && kept ? (
        <>
          <Columns what="" a={kept.name} b="In hand" head />
          <Columns what="Points" a={compared.points.a.toFixed(1)} b={compared.points.b.toFixed(1)} />
          {compared.scores.map((s) => (
            <Columns key={s.destinationId} what={`${names.destination(s.destinationId)}: score`} a={score(s.a)} b={score(s.b)} />
          ))}
          {compared.loads.map((l) => (
            <Columns key={l.uplinkId} what={`${names.uplink(l.uplinkId)}: load`} a={rateText(l.a)} b={rateText(l.b)} />
          ))}
          <Words kind="strong">Fields that differ</Words>
          {compared.fields.length === 0 ? <Words kind="faded">None: both serve everybody alike.</Words> : null}
          {compared.fields.map((f) => {
            const { what, a, b } = differenceText(f, names);
            return <Columns key={what} what={what} a={a} b={b} />;
          })}
        </>
      ) : null}
    </Overlay>
  );
}

function Columns({ what, a, b, head = false }: { what: string; a: string; b: string; head?: boolean }): ReactNode {
  const kind = head ? "strong" : "body";
  return (
    <View className="flex-row gap-2 border-b border-rule py-1" aria-label={`${what}: ${a}, in hand ${b}`}>
      <Words kind="small" className="w-[38%]">
        {what}
      </Words>
      <Words kind={kind} className="min-w-0 flex-1">
        {a}
      </Words>
      <Words kind={kind} className={`min-w-0 flex-1 ${!head && a !== b ? "font-strong" : ""}`}>
        {b}
      </Words>
    </View>
  );
}
