import type { LineTest, LineTestState } from "@ukaza/contract/lineTest";
import X from "lucide-react-native/icons/x";
import { Pressable, View } from "react-native";
import { useTheme } from "../../theme/ThemeProvider";
import { Words } from "../../ui/Words";
import { dataText, dayText, timeText } from "../../words/units";

const stateWord: Record<LineTestState, string> = {
  planned: "planned",
  waiting: "waiting",
  running: "running",
  done: "done",
  failed: "failed",
  cancelled: "cancelled",
  missed: "missed",
  skipped: "skipped",
};

/** One test of the plan or of the past, in a line. */
export function LineTestRow({ test, timeZone, onCancel }: { test: LineTest; timeZone: string; onCancel?: () => void }) {
  const { colour } = useTheme();
  const when = `${dayText(test.dueAt, timeZone)} ${timeText(test.dueAt, timeZone)}`;
  return (
    <View className="min-h-[44px] flex-row items-center justify-between gap-2 border-b border-rule">
      <View className="shrink py-1">
        <Words>{`${when}, ${stateWord[test.state]}${test.bytes === null ? "" : `, ${dataText(test.bytes)} sent`}`}</Words>
        {test.reason ? <Words kind="small">{test.reason}</Words> : null}
      </View>
      {onCancel ? (
        <Pressable
          role="button"
          aria-label={`Cancel the test of ${when}`}
          onPress={onCancel}
          className="h-11 w-11 items-center justify-center"
        >
          <X color={colour.faded} size={18} />
        </Pressable>
      ) : null}
    </View>
  );
}
