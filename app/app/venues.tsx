import { View } from "react-native";
import { useVenues } from "../data/hooks";
import { Loaded } from "../ui/Loaded";
import { Panel } from "../ui/Panel";
import { Row } from "../ui/Row";
import { Shelf } from "../ui/Shelf";
import { Words } from "../ui/Words";

/** The venues and their ways out. What was measured there stays with them from event to event. */
export default function Venues() {
  return (
    <Shelf here="Venues">
      <Loaded state={useVenues()}>
        {(venues) =>
          venues.map((venue) => (
            <Panel key={venue.id} title={venue.name}>
              {venue.note ? <Words>{venue.note}</Words> : null}
              <View>
                {venue.uplinks.map((u) => (
                  <Row key={u.id} label={`${u.name} (${u.kind})`}>
                    {u.tests === 1 ? "1 test" : `${u.tests} tests`}
                  </Row>
                ))}
              </View>
            </Panel>
          ))
        }
      </Loaded>
    </Shelf>
  );
}
