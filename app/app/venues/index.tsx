import type { VenueListed } from "@ukaza/contract/venue";
import { Link, useRouter } from "expo-router";
import { useState } from "react";
import { View } from "react-native";
import { useVenues } from "../../data/hooks";
import { VenueForm } from "../../stages/venues/VenueForm";
import { Button } from "../../ui/Button";
import { Loaded } from "../../ui/Loaded";
import { Overlay } from "../../ui/Overlay";
import { Shelf } from "../../ui/Shelf";
import { Words } from "../../ui/Words";

/** The venues and their ways out. What was measured there stays with them from event to event. */
export default function Venues() {
  const router = useRouter();
  const [adding, setAdding] = useState(false);
  return (
    <Shelf here="Venues">
      <Button className="self-start" onPress={() => setAdding(true)}>
        Add a venue
      </Button>
      <Loaded state={useVenues()}>
        {(venues) =>
          venues.length === 0 ? (
            <Words kind="faded">A venue keeps its uplinks and every test ever made there. Add the first.</Words>
          ) : (
            venues.map((venue) => <VenueCard key={venue.id} venue={venue} />)
          )
        }
      </Loaded>
      <Overlay title="A new venue" open={adding} onClose={() => setAdding(false)}>
        <VenueForm onDone={(id) => router.push(`/venues/${id}`)} />
      </Overlay>
    </Shelf>
  );
}

function VenueCard({ venue }: { venue: VenueListed }) {
  const tests = venue.uplinks.reduce((sum, u) => sum + u.tests, 0);
  const facts = `${venue.uplinks.length === 1 ? "1 uplink" : `${venue.uplinks.length} uplinks`}, ${tests === 1 ? "1 test" : `${tests} tests`}, ${venue.events === 1 ? "1 event" : `${venue.events} events`}`;
  return (
    <Link href={`/venues/${venue.id}`} aria-label={`${venue.name}, ${facts}`} asChild>
      <View role="link" tabIndex={0} className="gap-1 rounded border border-rule bg-sheet p-4">
        <Words kind="heading">{venue.name}</Words>
        {venue.note ? <Words>{venue.note}</Words> : null}
        <Words kind="faded">{venue.uplinks.map((u) => u.name).join(", ")}</Words>
        <Words kind="small">{facts}</Words>
      </View>
    </Link>
  );
}
