import { View } from "react-native";
import type { ApiError } from "../data/api";
import { StateShape } from "./StateMark";
import { Words } from "./Words";

/** A file of another kind has hundreds of faults; the first few say so. */
const SHOWN = 8;

/** What was refused: what is, why, what to do; and each fault with its place. */
export function ProblemNote({ error }: { error: ApiError | null }) {
  if (!error) return null;
  const { detail, mend, faults } = error.problem;
  return (
    <View role="alert" className="gap-1 rounded border-2 border-broken bg-sheet p-3">
      <View className="flex-row gap-2">
        <View className="pt-1">
          <StateShape health="broken" />
        </View>
        <Words className="shrink">{`${detail.charAt(0).toUpperCase()}${detail.slice(1)}${/[.!?]$/.test(detail) ? "" : "."} ${mend}`}</Words>
      </View>
      {faults && faults.length > 0 ? (
        <View className="pl-6">
          {faults.slice(0, SHOWN).map((fault) => (
            <Words key={`${fault.at}${fault.message}`} kind="small" tone="text-ink">{`${fault.at}: ${fault.message}`}</Words>
          ))}
          {faults.length > SHOWN ? <Words kind="small">{`And ${faults.length - SHOWN} more places.`}</Words> : null}
        </View>
      ) : null}
    </View>
  );
}
