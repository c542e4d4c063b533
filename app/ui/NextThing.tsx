import type { ReactNode } from "react";
import { View } from "react-native";
import { useWide } from "./useWide";
import { Words } from "./Words";

/** How every stage opens: one sentence that says what to do next, and one button. */
export function NextThing({ sentence, children }: { sentence: string; children?: ReactNode }) {
  const wide = useWide();
  return (
    <View className="gap-3 border-l-4 border-deep bg-sheet p-4" testID="next-thing">
      <Words className="text-lg leading-7">{sentence}</Words>
      {wide ? <View className="min-w-[280px] gap-3 self-start">{children}</View> : children}
    </View>
  );
}
