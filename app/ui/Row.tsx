import type { ReactNode } from "react";
import { View } from "react-native";
import { Words } from "./Words";

/** A ruled line: words at the left, a figure or words at the right. */
export function Row({ label, children }: { label: string; children: ReactNode }) {
  return (
    <View className="min-h-[32px] flex-row items-center justify-between gap-4 border-b border-rule py-1">
      <Words kind="faded" className="shrink">
        {label}
      </Words>
      <View className="max-w-[65%] items-end">
        {typeof children === "string" ? <Words className="text-right">{children}</Words> : children}
      </View>
    </View>
  );
}
