import type { Survey, UplinkSurvey } from "@ukaza/contract/survey";
import { Pressable, Text, View } from "react-native";
import { evidenceWord } from "../../words/survey";
import { rateText } from "../../words/units";

/** Every uplink with its usable rate; one is chosen. */
export function UplinkChooser({ survey, shownId, onChoose }: { survey: Survey; shownId: string | null; onChoose: (id: string) => void }) {
  return (
    <View role="radiogroup" aria-label="Uplink" className="rounded border border-rule bg-sheet">
      {survey.uplinks.map((u, i) => (
        <UplinkRow key={u.uplink.id} shown={u} first={i === 0} chosen={u.uplink.id === shownId} onChoose={() => onChoose(u.uplink.id)} />
      ))}
    </View>
  );
}

function UplinkRow({ shown, first, chosen, onChoose }: { shown: UplinkSurvey; first: boolean; chosen: boolean; onChoose: () => void }) {
  const { uplink, result } = shown;
  const usable = result.usableBps === null ? "unknown" : rateText(result.usableBps);
  const facts = [uplink.kind, uplink.eventId ? "this event only" : null, uplink.metered ? "metered" : null, evidenceWord[result.evidence]];
  const line = facts.filter(Boolean).join(", ");
  return (
    <Pressable
      role="radio"
      aria-checked={chosen}
      aria-label={`${uplink.name}, ${line}, usable ${usable}`}
      onPress={onChoose}
      className={`min-h-[56px] flex-row items-center justify-between gap-3 border-l-4 px-3 py-2 ${first ? "" : "border-t border-t-rule"} ${chosen ? "border-l-deep" : "border-l-transparent"}`}
    >
      <View className="shrink">
        <Text className={`text-base text-ink ${chosen ? "font-strong" : "font-words"}`}>{uplink.name}</Text>
        <Text className="font-words text-sm text-faded">{line}</Text>
      </View>
      <Text className="font-figures-strong text-base text-ink">{usable}</Text>
    </Pressable>
  );
}
