import type { Survey } from "@ukaza/contract/survey";
import { clockTime } from "@ukaza/contract/venue";
import { useState } from "react";
import { View } from "react-native";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Words } from "../../ui/Words";
import { dayText, timeText } from "../../words/units";
import type { SurveyScope } from "./scope";

/** The hours the verdict is about; others can be tried without changing the plan. */
export function WindowField({
  survey,
  hours,
  onChange,
}: {
  survey: Survey;
  hours: SurveyScope["hours"];
  onChange: (hours: SurveyScope["hours"]) => void;
}) {
  const { show, timeZone } = survey;
  const [from, until] = [timeText(show.start, timeZone), timeText(show.end, timeZone)];
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState({ from, until });
  const wrong = (text: string) => (clockTime.safeParse(text.trim()).success ? undefined : "Write a time of day as 19:30.");
  const sentence = `For ${dayText(show.start, timeZone)}, ${from} to ${until}${hours ? ", tried out; the plan is unchanged" : ""}.`;
  if (!open)
    return (
      <View className="flex-row flex-wrap items-center justify-between gap-2">
        <Words kind="faded" className="shrink">
          {sentence}
        </Words>
        <View className="flex-row flex-wrap gap-2">
          {hours ? <Button onPress={() => onChange(null)}>Back to the plan</Button> : null}
          <Button
            onPress={() => {
              setTyped({ from, until });
              setOpen(true);
            }}
          >
            Try other hours
          </Button>
        </View>
      </View>
    );
  const faulty = wrong(typed.from) !== undefined || wrong(typed.until) !== undefined;
  return (
    <View className="gap-3 rounded border border-rule bg-sheet p-4">
      <View className="flex-row gap-3">
        <View className="flex-1">
          <Field label="From" value={typed.from} error={wrong(typed.from)} onChange={(value) => setTyped({ ...typed, from: value })} />
        </View>
        <View className="flex-1">
          <Field label="Until" value={typed.until} error={wrong(typed.until)} onChange={(value) => setTyped({ ...typed, until: value })} />
        </View>
      </View>
      <View className="flex-row flex-wrap gap-2">
        <Button
          look="main"
          disabled={faulty}
          onPress={() => {
            onChange({ from: typed.from.trim(), until: typed.until.trim() });
            setOpen(false);
          }}
        >
          Show these hours
        </Button>
        <Button onPress={() => setOpen(false)}>Cancel</Button>
      </View>
    </View>
  );
}
