import type { FitProblem } from "@ukaza/contract/fit";
import type { FitNow } from "@ukaza/contract/fitChoice";
import { View } from "react-native";
import { LoadLine } from "../../ui/LoadLine";
import { Panel } from "../../ui/Panel";
import { Words } from "../../ui/Words";

/** The load line of every uplink that carries something. */
export function LoadLines({
  problem,
  now,
  cargo,
}: {
  problem: FitProblem;
  now: FitNow;
  cargo: { uplinkId: string; name: string; loadBps: number }[];
}) {
  const carrying = problem.uplinks.filter((u) => cargo.some((c) => c.uplinkId === u.id));
  return (
    <Panel title="Load line">
      <View className="gap-5">
        {carrying.map((u) => (
          <LoadLine
            key={u.id}
            name={now.uplinkNames[u.id] ?? u.id}
            usableBps={u.usableBps}
            sustainableBps={now.sustainableBps[u.id] ?? u.usableBps}
            cargo={cargo.filter((c) => c.uplinkId === u.id)}
          />
        ))}
      </View>
      {now.unmeasured.length > 0 ? <Words kind="small">{`Not measured, so not used: ${now.unmeasured.join(", ")}.`}</Words> : null}
    </Panel>
  );
}
