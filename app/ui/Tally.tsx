import { Text, View } from "react-native";

/** Public: a still red bar with the word. */
export function Tally() {
  return (
    <View className="self-start rounded-sm bg-tally px-3 py-1">
      <Text className="font-strong text-sm text-on-deep">PUBLIC</Text>
    </View>
  );
}
