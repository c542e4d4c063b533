import { Redirect, useLocalSearchParams } from "expo-router";
import { useEvent } from "../../../data/hooks";

/** An event opens at its next stage. */
export default function EventIndex() {
  const { id } = useLocalSearchParams<{ id: string }>();
  const { data } = useEvent(id);
  return data ? <Redirect href={`/events/${id}/${data.finishedAt ? "wrap" : data.next}`} /> : null;
}
