import { View } from "react-native";
import { Button } from "./Button";
import { Words } from "./Words";

export interface RangeProps {
  label: string;
  /** The value in words, with its unit. */
  said: string;
  value: number;
  min: number;
  max: number;
  step: number;
  onChange: (value: number) => void;
}

/** A value along a range, by buttons where there is no slider. */
export function RangeField({ label, said, value, min, max, step, onChange }: RangeProps) {
  return (
    <View className="gap-1">
      <Words>{`${label}: ${said}`}</Words>
      <View className="flex-row gap-2">
        <Button onPress={() => onChange(Math.max(min, value - step))}>{`${label}, less`}</Button>
        <Button onPress={() => onChange(Math.min(max, value + step))}>{`${label}, more`}</Button>
      </View>
    </View>
  );
}
