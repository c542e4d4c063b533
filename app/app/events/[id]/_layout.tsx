import type { Stage } from "@ukaza/contract/event";
import { Link, Slot, useLocalSearchParams, usePathname } from "expo-router";
import { ScrollView, Text, View } from "react-native";
import { EventStream, useConnected } from "../../../data/EventStream";
import { useAir, useEvent } from "../../../data/hooks";
import { DoubleBooked } from "../../../stages/DoubleBooked";
import { NewerSheets } from "../../../stages/NewerSheets";
import { Loaded } from "../../../ui/Loaded";
import { StageRail } from "../../../ui/StageRail";
import { Tally } from "../../../ui/Tally";
import { ThemeSwitch } from "../../../ui/ThemeSwitch";
import { useWide } from "../../../ui/useWide";
import { Words } from "../../../ui/Words";
import { stageOrder } from "../../../words/stages";
import { dayText, timeText } from "../../../words/units";

/** The frame of an event: its title, the stage rail, and one stage. */
export default function EventLayout() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return (
    <EventStream key={id} eventId={id}>
      <Frame id={id} />
    </EventStream>
  );
}

function Frame({ id }: { id: string }) {
  const event = useEvent(id);
  const wide = useWide();
  const last = usePathname().split("/").at(-1) ?? "";
  const here: Stage = stageOrder.find((stage) => stage === last) ?? "survey";
  return (
    <ScrollView className="flex-1 bg-paper" contentContainerClassName={`w-full gap-3 p-4 pb-16 ${wide ? "mx-auto max-w-[1320px]" : ""}`}>
      <Loaded state={event}>
        {(now) => (
          <>
            <View className="flex-row items-start justify-between gap-2">
              <View className="shrink">
                <Link href="/" className="min-h-[32px] py-1 font-words text-base text-deep">
                  ← Events
                </Link>
                <Words kind="title">{now.event.name}</Words>
                <Words kind="faded">{`${now.venueName}, ${dayText(now.event.show.start, now.event.timeZone)}, ${timeText(now.event.show.start, now.event.timeZone)} to ${timeText(now.event.show.end, now.event.timeZone)}`}</Words>
              </View>
              <View className="items-end gap-1">
                <ThemeSwitch />
                {now.broadcast === "public" ? <Tally /> : null}
              </View>
            </View>
            <Notices id={id} finished={now.finishedAt !== null} />
            {now.finishedAt ? null : (
              <>
                <NewerSheets eventId={id} />
                <DoubleBooked eventId={id} />
              </>
            )}
            <View className={wide ? "flex-row gap-6" : "gap-3"}>
              <StageRail now={now} here={here} />
              <View role="main" className="min-w-0 flex-1 gap-4">
                <Slot />
              </View>
            </View>
          </>
        )}
      </Loaded>
    </ScrollView>
  );
}

/** What holds for every figure below: whether it comes from stand-ins, and whether it is still fresh. */
function Notices({ id, finished }: { id: string; finished: boolean }) {
  const { data: air } = useAir(id);
  const connected = useConnected();
  return (
    <>
      {air?.standins ? (
        <Text className="font-words text-sm text-faded">Demo: line, encoder and platform are simulated stand-ins.</Text>
      ) : null}
      {!connected && !finished && air ? (
        <View role="status" className="rounded border-2 border-strained bg-sheet p-2">
          <Words kind="small" tone="text-ink">
            No word from the server just now. What you see may be old; the encoder goes on sending by itself.
          </Words>
        </View>
      ) : null}
    </>
  );
}
