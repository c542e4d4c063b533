import { Link, useLocalSearchParams } from "expo-router";
import { useState } from "react";
import { View } from "react-native";
import { useVenue } from "../../data/hooks";
import { SurveyBoard } from "../../stages/survey/SurveyBoard";
import { VenueForm } from "../../stages/venues/VenueForm";
import { Button } from "../../ui/Button";
import { Loaded } from "../../ui/Loaded";
import { Overlay } from "../../ui/Overlay";
import { Shelf } from "../../ui/Shelf";
import { Words } from "../../ui/Words";

/** One venue: its uplinks and all that was ever measured there, for its next show or any hours. */
export default function Venue() {
  const { id } = useLocalSearchParams<{ id: string }>();
  const [editing, setEditing] = useState(false);
  return (
    <Shelf here="Venues" wide title={false}>
      <Loaded state={useVenue(id)}>
        {(venue) => (
          <>
            <View className="flex-row items-start justify-between gap-3">
              <View className="shrink">
                <Link href="/venues" className="min-h-[32px] py-1 font-words text-base text-deep">
                  ← Venues
                </Link>
                <Words kind="title">{venue.name}</Words>
                <Words kind="faded">{`${venue.note ? `${venue.note} ` : ""}Clock: ${venue.timeZone}.`}</Words>
              </View>
              <Button onPress={() => setEditing(true)}>Edit</Button>
            </View>
            <SurveyBoard venueId={id} eventId={null} />
            <Overlay title={`Edit ${venue.name}`} open={editing} onClose={() => setEditing(false)}>
              <VenueForm venue={venue} onDone={() => setEditing(false)} />
            </Overlay>
          </>
        )}
      </Loaded>
    </Shelf>
  );
}
