import type { EventNow } from "@ukaza/contract/event";
import { Link } from "expo-router";
import { Text, View } from "react-native";
import { useEvents } from "../data/hooks";
import { Loaded } from "../ui/Loaded";
import { Shelf } from "../ui/Shelf";
import { Tally } from "../ui/Tally";
import { Words } from "../ui/Words";
import { nextSentence } from "../words/stages";
import { dayText, timeText } from "../words/units";

/** Every event, tonight's first of those to come, each with its one next thing. */
export default function Events() {
  const events = useEvents();
  return (
    <Shelf here="Events">
      <Loaded state={events}>
        {(all) =>
          all.length === 0 ? (
            <Words kind="faded">
              An event is one show with its venue, encoder and platforms. Import one to begin; npm run demo brings three.
            </Words>
          ) : (
            <Groups events={all} />
          )
        }
      </Loaded>
    </Shelf>
  );
}

function Groups({ events }: { events: EventNow[] }) {
  const open = events.filter((e) => !e.finishedAt);
  const finished = events.filter((e) => e.finishedAt).reverse();
  return (
    <>
      {open.length > 0 ? <Words kind="heading">To come</Words> : null}
      {open.map((e) => (
        <EventCard key={e.event.id} now={e} />
      ))}
      {finished.length > 0 ? (
        <Words kind="heading" className="pt-2">
          Finished
        </Words>
      ) : null}
      {finished.map((e) => (
        <EventCard key={e.event.id} now={e} />
      ))}
    </>
  );
}

function EventCard({ now }: { now: EventNow }) {
  const { event } = now;
  const when = `${dayText(event.show.start, event.timeZone)}, ${timeText(event.show.start, event.timeZone)} to ${timeText(event.show.end, event.timeZone)}`;
  return (
    <Link
      href={`/events/${event.id}/${now.finishedAt ? "wrap" : now.next}`}
      aria-label={`${event.name}, ${now.venueName}, ${when}`}
      asChild
    >
      <View role="link" tabIndex={0} className="gap-1 rounded border border-rule bg-sheet p-4">
        {now.broadcast === "public" ? <Tally /> : null}
        <Text className="font-words text-sm text-faded">{when}</Text>
        <Words kind="heading">{event.name}</Words>
        <Words>{now.venueName}</Words>
        <Words kind="strong" tone="text-deep" className="pt-1">
          {nextSentence(now)}
        </Words>
        {event.series ? <Words kind="small">{event.series}</Words> : null}
      </View>
    </Link>
  );
}
