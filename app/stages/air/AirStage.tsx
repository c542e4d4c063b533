import type { AirNow } from "@ukaza/contract/air";
import { useRouter } from "expo-router";
import { useState } from "react";
import { View } from "react-native";
import { useAir, useEvent } from "../../data/hooks";
import { Button } from "../../ui/Button";
import { Loaded } from "../../ui/Loaded";
import { NextThing } from "../../ui/NextThing";
import { Overlay } from "../../ui/Overlay";
import { Panel } from "../../ui/Panel";
import { useWide } from "../../ui/useWide";
import { AirClock } from "./AirClock";
import { DestinationRow } from "./DestinationRow";
import { FeedPanel } from "./FeedPanel";
import { LogPanel } from "./LogPanel";
import { SwitchPanel } from "./SwitchPanel";
import { TroubleSheet } from "./TroubleSheet";
import { WrongNow } from "./WrongNow";

/** On air: the clock, a row for each destination, and only what is wrong. */
export function AirStage({ eventId }: { eventId: string }) {
  const { data: now } = useEvent(eventId);
  return (
    <Loaded state={useAir(eventId)}>
      {(air) => <Board eventId={eventId} air={air} timeZone={now?.event.timeZone ?? "UTC"} plannedEnd={now?.event.show.end ?? null} />}
    </Loaded>
  );
}

function Board({ eventId, air, timeZone, plannedEnd }: { eventId: string; air: AirNow; timeZone: string; plannedEnd: string | null }) {
  const wide = useWide();
  const router = useRouter();
  const [open, setOpen] = useState(false);
  if (air.broadcast === "off" || air.broadcast === "sending") {
    return (
      <>
        <NextThing
          sentence={
            air.broadcast === "off"
              ? "Nothing is sent yet. The run sheet in Line-up leads here."
              : "The encoder sends, but nobody sees it yet. Go public in Line-up."
          }
        >
          <Button look="main" onPress={() => router.push(`/events/${eventId}/lineup`)}>
            Go to Line-up
          </Button>
        </NextThing>
        {air.broadcast === "sending" ? <FeedPanels air={air} /> : null}
        <LogPanel eventId={eventId} air={air} timeZone={timeZone} />
      </>
    );
  }
  const ended = air.broadcast === "ended";
  const details = (
    <>
      <FeedPanels air={air} />
      {ended ? null : <SwitchPanel eventId={eventId} air={air} />}
    </>
  );
  const left = (
    <>
      {ended ? (
        <NextThing sentence="The broadcast has ended. Finish in Wrap.">
          <Button look="main" onPress={() => router.push(`/events/${eventId}/wrap`)}>
            Go to Wrap
          </Button>
        </NextThing>
      ) : null}
      <AirClock publicAt={air.publicAt} ended={ended} plannedEnd={plannedEnd} timeZone={timeZone} />
      <DestinationRow air={air} onOpen={wide ? undefined : () => setOpen(true)} />
      {ended ? null : <WrongNow air={air} timeZone={timeZone} />}
      {ended ? null : <Button onPress={() => router.push(`/events/${eventId}/wrap`)}>End the broadcast in Wrap</Button>}
      {air.standins && air.running ? <TroubleSheet eventId={eventId} /> : null}
    </>
  );
  if (!wide) {
    return (
      <>
        {left}
        <LogPanel eventId={eventId} air={air} timeZone={timeZone} />
        <Overlay title={air.platformName} open={open} onClose={() => setOpen(false)}>
          {details}
        </Overlay>
      </>
    );
  }
  return (
    <View className="flex-row items-start gap-4">
      <View className="w-[300px] gap-4">{left}</View>
      <View className="min-w-0 flex-1 gap-4">{details}</View>
      <View className="w-[300px]">
        <LogPanel eventId={eventId} air={air} timeZone={timeZone} />
      </View>
    </View>
  );
}

function FeedPanels({ air }: { air: AirNow }) {
  return (
    <Panel title="Feeds">
      {air.feeds.map((feed) => (
        <FeedPanel
          key={feed.id}
          feed={feed}
          active={air.active === feed.role}
          other={air.feeds.find((f) => f.id !== feed.id)?.verdict?.health ?? null}
        />
      ))}
    </Panel>
  );
}
