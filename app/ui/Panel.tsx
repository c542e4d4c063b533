import type { ReactNode } from "react";
import { View } from "react-native";
import { Words } from "./Words";

/** A sheet of ruled paper with a heading. */
export function Panel({
  title,
  children,
  aside,
  className = "",
}: {
  title?: string;
  children: ReactNode;
  aside?: ReactNode;
  className?: string;
}) {
  return (
    <View className={`gap-3 rounded border border-rule bg-sheet p-4 ${className}`}>
      {title ? (
        <View className="flex-row items-center justify-between gap-3 border-b border-rule pb-2">
          <Words kind="heading" className="shrink">
            {title}
          </Words>
          {aside}
        </View>
      ) : null}
      {children}
    </View>
  );
}
