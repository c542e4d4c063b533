import { Pressable, Text, View } from "react-native";

/** Any number of a few, as boxes to tick. */
export function Several({
  value,
  options,
  onChange,
}: {
  value: readonly string[];
  options: readonly { value: string; word: string }[];
  onChange: (value: string[]) => void;
}) {
  return (
    <View className="flex-row flex-wrap gap-2">
      {options.map((option) => {
        const on = value.includes(option.value);
        return (
          <Pressable
            key={option.value}
            role="checkbox"
            aria-checked={on}
            aria-label={option.word}
            onPress={() => onChange(on ? value.filter((v) => v !== option.value) : [...value, option.value])}
            className={`min-h-[44px] justify-center rounded border-2 px-3 ${on ? "border-deep bg-deep" : "border-rule bg-sheet"}`}
          >
            <Text className={`font-words text-base ${on ? "text-on-deep" : "text-ink"}`}>{`${on ? "✓ " : ""}${option.word}`}</Text>
          </Pressable>
        );
      })}
    </View>
  );
}
