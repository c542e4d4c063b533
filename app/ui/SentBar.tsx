import type { Health } from "@ukaza/contract/air";
import { Text, View } from "react-native";
import { useTheme } from "../theme/ThemeProvider";
import { rate, rateText } from "../words/units";

/** Sent against target, as a bar with its figures. `at` marks the sample it shows. */
export function SentBar({
  sentBps,
  targetBps,
  health,
  at,
}: {
  sentBps: number | null;
  targetBps: number;
  health: Health;
  at: string | null;
}) {
  const { colour } = useTheme();
  const share = sentBps === null || targetBps === 0 ? 0 : Math.min(1, sentBps / targetBps);
  const shown = sentBps === null ? { value: "–", unit: "" } : rate(sentBps);
  return (
    <View role="img" aria-label={`Sent ${sentBps === null ? "unknown" : rateText(sentBps)} of ${rateText(targetBps)}`} className="gap-1">
      <View className="flex-row items-baseline justify-between">
        <Text className="font-words text-sm text-faded">sent</Text>
        <Text testID="sent" dataSet={{ at: at ?? "" }} className="font-figures-strong text-lg text-ink">
          {shown.value}
          <Text className="font-words text-sm text-faded">{` ${shown.unit} of ${rateText(targetBps)}`}</Text>
        </Text>
      </View>
      <View className="h-2 overflow-hidden rounded-full bg-rule">
        <View className="h-2" style={{ width: `${share * 100}%`, backgroundColor: colour[health] }} />
      </View>
    </View>
  );
}
