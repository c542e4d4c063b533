import type { FitProblem } from "@ukaza/contract/fit";
import type { FitNow } from "@ukaza/contract/fitChoice";
import type { WholePlan } from "@ukaza/contract/fitPlan";
import { View } from "react-native";
import { LoadLine } from "../../ui/LoadLine";
import { Panel } from "../../ui/Panel";
import { Words } from "../../ui/Words";
import type { Names } from "../../words/plan";

/** The load line of every uplink, with every feed of a plan that it carries. */
export function LoadLines({ problem, now, plan, names }: { problem: FitProblem; now: FitNow; plan: WholePlan; names: Names }) {
  const cargoOf = (uplinkId: string) =>
    plan.destinations.flatMap((d) =>
      d.feeds.flatMap((f) =>
        f.uplinkId === uplinkId
          ? [{ name: `${names.destination(d.destinationId)}${f.role === "backup" ? ", backup" : ""}`, loadBps: f.loadBps }]
          : [],
      ),
    );
  return (
    <Panel title={problem.uplinks.length > 1 ? "Load lines" : "Load line"}>
      <View className="gap-5">
        {problem.uplinks.map((u) => (
          <LoadLine
            key={u.id}
            name={names.uplink(u.id)}
            usableBps={u.usableBps}
            sustainableBps={now.sustainableBps[u.id] ?? u.usableBps}
            cargo={cargoOf(u.id)}
          />
        ))}
      </View>
      {now.unmeasured.length > 0 ? <Words kind="small">{`Not measured, so not used: ${now.unmeasured.join(", ")}.`}</Words> : null}
    </Panel>
  );
}
