import { Pressable, Text, View } from "react-native";

/** One of a few, as buttons in a row. The chosen one is filled and said to be checked. */
export function Choice<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: T;
  options: readonly { value: T; word: string }[];
  onChange: (value: T) => void;
}) {
  return (
    <View role="radiogroup" aria-label={label} className="flex-row flex-wrap gap-2">
      {options.map((option) => {
        const chosen = option.value === value;
        return (
          <Pressable
            key={option.value}
            role="radio"
            aria-checked={chosen}
            aria-label={option.word}
            onPress={() => onChange(option.value)}
            className={`min-h-[44px] justify-center rounded border-2 px-3 ${chosen ? "border-deep bg-deep" : "border-rule bg-sheet"}`}
          >
            <Text className={`font-words text-base ${chosen ? "text-on-deep" : "text-ink"}`}>{option.word}</Text>
          </Pressable>
        );
      })}
    </View>
  );
}
