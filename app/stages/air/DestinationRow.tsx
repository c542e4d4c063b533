import type { AirNow } from "@ukaza/contract/air";
import ChevronRight from "lucide-react-native/icons/chevron-right";
import { Pressable, View } from "react-native";
import { useSamples } from "../../data/EventStream";
import { useTheme } from "../../theme/ThemeProvider";
import { SentBar } from "../../ui/SentBar";
import { StateMark } from "../../ui/StateMark";
import { Words } from "../../ui/Words";
import { healthWord } from "../../words/air";

/** One destination: its state, the feed viewers have, and sent against target. Tap for more. */
export function DestinationRow({ air, onOpen }: { air: AirNow; onOpen: (() => void) | undefined }) {
  const { colour } = useTheme();
  const samples = useSamples();
  const feed = air.feeds.find((f) => f.role === air.active);
  if (!feed) return null;
  const health = feed.verdict?.health ?? "silent";
  const last = samples[feed.id]?.at(-1) ?? feed.last;
  const over = `${air.active === "main" ? "Main" : "Backup"} feed over ${feed.uplinkName}`;
  const body = (
    <>
      <View className="flex-row items-center justify-between gap-2">
        <Words kind="heading" className="shrink">
          {air.platformName}
        </Words>
        <View className="flex-row items-center gap-1">
          <StateMark health={health} />
          {onOpen ? <ChevronRight color={colour.faded} size={18} /> : null}
        </View>
      </View>
      <Words kind="small">{over}</Words>
      <SentBar sentBps={last?.sentBps ?? null} targetBps={feed.targetBps} health={health} at={last?.at ?? null} />
    </>
  );
  const look = "gap-2 rounded border border-rule bg-sheet p-4";
  if (!onOpen)
    return (
      <View testID="destination" className={look}>
        {body}
      </View>
    );
  return (
    <Pressable
      testID="destination"
      role="button"
      aria-label={`${air.platformName}: ${healthWord[health]}. ${over}. Open charts and actions.`}
      onPress={onOpen}
      className={look}
    >
      {body}
    </Pressable>
  );
}
