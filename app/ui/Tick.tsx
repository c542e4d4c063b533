import { Pressable, Text, View } from "react-native";

/** Yes or no: a switch with its words beside it. Its state is said by the mark, not by colour alone. */
export function Tick({
  label,
  on,
  disabled = false,
  onChange,
}: {
  label: string;
  on: boolean;
  disabled?: boolean;
  onChange: (on: boolean) => void;
}) {
  return (
    <Pressable
      role="switch"
      aria-checked={on}
      aria-label={label}
      disabled={disabled}
      onPress={() => onChange(!on)}
      className="min-h-[44px] flex-row items-center gap-2"
    >
      <View className={`h-6 w-6 items-center justify-center rounded border-2 border-deep ${on ? "bg-deep" : "bg-sheet"}`}>
        <Text aria-hidden className="font-strong text-base text-on-deep">
          {on ? "✓" : ""}
        </Text>
      </View>
      <Text className="shrink font-words text-base text-ink">{label}</Text>
    </Pressable>
  );
}
