import { View } from "react-native";
import { useKit } from "../data/hooks";
import { Words } from "../ui/Words";
import { doubleText } from "../words/kit";

/** Says inside an event that one of its encoders is wanted elsewhere in the same hours. */
export function DoubleBooked({ eventId }: { eventId: string }) {
  const { data: kit } = useKit();
  const doubles = (kit ?? []).flatMap((item) =>
    item.doubles.filter((d) => d.a.eventId === eventId || d.b.eventId === eventId).map((d) => ({ ...d, name: item.encoder.name })),
  );
  return doubles.map((d) => (
    <View key={d.encoderId + d.from + d.b.eventId} role="status" className="rounded border-2 border-strained bg-sheet p-2">
      <Words kind="small" tone="text-ink">{`${d.name} is double booked. ${doubleText(d)}`}</Words>
    </View>
  ));
}
