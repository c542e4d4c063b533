import { View } from "react-native";
import { Words } from "./Words";

/** How far something is, as a bar and in words. */
export function ProgressBar({ share, label }: { share: number; label: string }) {
  const percent = Math.round(Math.min(1, Math.max(0, share)) * 100);
  return (
    <View className="gap-1">
      <View className="flex-row justify-between gap-3">
        <Words className="shrink">{label}</Words>
        <Words>{`${percent} %`}</Words>
      </View>
      <View
        role="progressbar"
        aria-label={label}
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={percent}
        className="h-2 overflow-hidden rounded border border-rule bg-paper"
      >
        <View className="h-full bg-deep" style={{ width: `${percent}%` }} />
      </View>
    </View>
  );
}
