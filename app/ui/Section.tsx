import ChevronDown from "lucide-react-native/icons/chevron-down";
import ChevronRight from "lucide-react-native/icons/chevron-right";
import { type ReactNode, useState } from "react";
import { Pressable, View } from "react-native";
import { useTheme } from "../theme/ThemeProvider";
import { Words } from "./Words";

/** A part of a long form that opens and shuts; shut, it says how much in it is wrong. */
export function Section({
  title,
  faults,
  begin = false,
  children,
}: {
  title: string;
  faults: number;
  begin?: boolean;
  children: ReactNode;
}) {
  const [open, setOpen] = useState(begin);
  const { colour } = useTheme();
  const Mark = open ? ChevronDown : ChevronRight;
  return (
    <View className="rounded border border-rule bg-sheet">
      <Pressable
        role="button"
        aria-expanded={open}
        aria-label={title}
        onPress={() => setOpen(!open)}
        className="min-h-[48px] flex-row items-center gap-2 px-4 py-2"
      >
        <Mark color={colour.deep} size={20} />
        <Words kind="heading" className="shrink grow">
          {title}
        </Words>
        {faults > 0 ? (
          <Words kind="small" tone="text-broken">
            {faults === 1 ? "1 fault" : `${faults} faults`}
          </Words>
        ) : null}
      </Pressable>
      {open ? <View className="gap-3 border-t border-rule p-4">{children}</View> : null}
    </View>
  );
}

/** Fields side by side where there is room. */
export function Fields({ children }: { children: ReactNode }) {
  return <View className="flex-row flex-wrap gap-3">{children}</View>;
}
