import type { Event } from "@ukaza/contract/event";
import type { CountedMeasurement, UplinkSurvey } from "@ukaza/contract/survey";
import Trash from "lucide-react-native/icons/trash";
import { useState } from "react";
import { Pressable, Text, View } from "react-native";
import { send } from "../../data/api";
import { useOrder } from "../../data/hooks";
import { useRefresh } from "../../data/useRefresh";
import { useTheme } from "../../theme/ThemeProvider";
import { Button } from "../../ui/Button";
import { Panel } from "../../ui/Panel";
import { ProblemNote } from "../../ui/Problem";
import { Words } from "../../ui/Words";
import { dayText, rate, timeText } from "../../words/units";

const FIRST = 12;

/** Every test, newest first; those that count for this show are marked. Deleting can be undone. */
export function MeasurementList({ survey, event }: { survey: UplinkSurvey; event: Event }) {
  const refresh = useRefresh(event.id);
  const { error, run } = useOrder();
  const [all, setAll] = useState(false);
  const [removed, setRemoved] = useState<CountedMeasurement | null>(null);
  const newest = [...survey.measurements].reverse();
  const used = new Set(survey.result.usedIds);

  const remove = async (m: CountedMeasurement) => {
    if (await run(() => send("DELETE", `/measurements/${m.id}`))) {
      setRemoved(m);
      await refresh();
    }
  };
  const restore = async () => {
    if (removed && (await run(() => send("POST", `/measurements/${removed.id}/restore`)))) {
      setRemoved(null);
      await refresh();
    }
  };
  return (
    <Panel title={`Tests (${newest.length})`}>
      {removed ? (
        <View role="status" className="flex-row items-center justify-between gap-2">
          <Words className="shrink">{`Test of ${timeText(removed.takenAt, event.timeZone)} deleted.`}</Words>
          <Button onPress={restore}>Undo</Button>
        </View>
      ) : null}
      <ProblemNote error={error} />
      {newest.length === 0 ? (
        <Words kind="faded">No test yet. One at show time is worth ten in the morning.</Words>
      ) : (
        <Words kind="small">● counts for this show</Words>
      )}
      <View role="list">
        {(all ? newest : newest.slice(0, FIRST)).map((m) => (
          <Test key={m.id} m={m} counts={used.has(m.id)} timeZone={event.timeZone} onRemove={() => void remove(m)} />
        ))}
      </View>
      {newest.length > FIRST ? <Button onPress={() => setAll(!all)}>{all ? "Show fewer" : `Show all ${newest.length}`}</Button> : null}
    </Panel>
  );
}

function Test({ m, counts, timeZone, onRemove }: { m: CountedMeasurement; counts: boolean; timeZone: string; onRemove: () => void }) {
  const { colour } = useTheme();
  const when = `${dayText(m.takenAt, timeZone)} ${timeText(m.takenAt, timeZone)}`;
  const shown = rate(m.ownIpBps);
  return (
    <View role="listitem" className="min-h-[44px] flex-row items-center justify-between border-b border-rule">
      {counts ? (
        <Text role="img" aria-label="counts for this show" className="w-5 font-words text-base text-deep">
          ●
        </Text>
      ) : (
        <View className="w-5" />
      )}
      <View className="flex-1">
        <Text className="font-words text-base text-ink">{when}</Text>
        <Text className="font-words text-sm text-faded">
          {[
            m.source,
            m.rttMs === undefined ? null : `${m.rttMs.toFixed(0)} ms`,
            m.lossRatio === undefined ? null : `loss ${(m.lossRatio * 100).toFixed(2)} %`,
            m.floor ? "at least" : null,
          ]
            .filter(Boolean)
            .join(", ")}
        </Text>
      </View>
      <Text className="font-figures-strong text-base text-ink">
        {shown.value}
        <Text className="font-words text-sm text-faded">{` ${shown.unit}`}</Text>
      </Text>
      <Pressable
        role="button"
        aria-label={`Delete the test of ${when}`}
        onPress={onRemove}
        className="h-11 w-11 items-center justify-center"
      >
        <Trash color={colour.faded} size={18} />
      </Pressable>
    </View>
  );
}
