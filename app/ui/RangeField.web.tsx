import { View } from "react-native";
import { useTheme } from "../theme/ThemeProvider";
import type { RangeProps } from "./RangeField";
import { Words } from "./Words";

/** A slider: the browser's own, which keys, fingers and screen readers know. */
export function RangeField({ label, said, value, min, max, step, onChange }: RangeProps) {
  const { colour } = useTheme();
  return (
    <View>
      <View className="flex-row justify-between gap-3">
        <Words>{label}</Words>
        <Words kind="strong">{said}</Words>
      </View>
      <input
        type="range"
        aria-label={label}
        aria-valuetext={said}
        value={value}
        min={min}
        max={max}
        step={step}
        onChange={(event) => onChange(Number(event.currentTarget.value))}
        style={{ width: "100%", height: 44, margin: 0, accentColor: colour.deep }}
      />
    </View>
  );
}
