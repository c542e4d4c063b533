import { Text, View } from "react-native";
import type { Shown } from "../words/units";

const sizes = { huge: "text-[52px] leading-[60px]", large: "text-[30px] leading-9", plain: "text-lg leading-6" } as const;

/** A figure, large and right-aligned, its unit smaller beside it. `label` stands above it. */
export function Figure({
  shown,
  label,
  size = "plain",
  tone = "text-ink",
  testID,
}: {
  shown: Shown;
  label?: string;
  size?: keyof typeof sizes;
  tone?: string;
  testID?: string;
}) {
  return (
    <View className="items-end">
      {label ? <Text className="font-words text-sm leading-5 text-faded">{label}</Text> : null}
      <Text testID={testID} className={`font-figures-strong ${sizes[size]} ${tone} text-right`}>
        {shown.value}
        <Text className="font-words text-sm text-faded">{` ${shown.unit}`}</Text>
      </Text>
    </View>
  );
}
