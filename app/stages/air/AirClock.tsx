import { View } from "react-native";
import { Figure } from "../../ui/Figure";
import { useNow } from "../../ui/useNow";
import { Words } from "../../ui/Words";
import { clock, timeText } from "../../words/units";

/** How long viewers have been watching, and how long until the planned end. */
export function AirClock({
  publicAt,
  ended,
  plannedEnd,
  timeZone,
}: {
  publicAt: string | null;
  ended: boolean;
  plannedEnd: string | null;
  timeZone: string;
}) {
  const now = useNow(500);
  if (!publicAt) return null;
  const leftS = plannedEnd ? (Date.parse(plannedEnd) - now) / 1000 : null;
  return (
    <View className="rounded border border-rule bg-sheet p-4" role="timer" aria-label="On-air clock">
      {ended ? (
        <Words kind="strong">Off the air</Words>
      ) : (
        <Figure
          label={`On air since ${timeText(publicAt, timeZone, true)}`}
          shown={{ value: clock((now - Date.parse(publicAt)) / 1000), unit: "" }}
          size="huge"
          testID="clock"
        />
      )}
      {!ended && leftS !== null && plannedEnd ? (
        <Words kind="small" className="text-right">
          {leftS >= 0
            ? `Planned end ${timeText(plannedEnd, timeZone)}, in ${clock(leftS)}`
            : `Planned end was ${timeText(plannedEnd, timeZone)}`}
        </Words>
      ) : null}
    </View>
  );
}
