import type { ListedMeasurement } from "@ukaza/contract/survey";
import { useState } from "react";
import { Pressable, Text, View } from "react-native";
import { useMeasurementPage } from "../../data/hooks";
import { Loaded } from "../../ui/Loaded";
import { Overlay } from "../../ui/Overlay";
import { PagedList } from "../../ui/PagedList";
import { Words } from "../../ui/Words";
import { percent, rate, timeText } from "../../words/units";
import { OneTest } from "./OneTest";

const PAGE = 25;

const dayYear = (instant: string, timeZone: string) =>
  new Intl.DateTimeFormat("en-GB", { timeZone, weekday: "short", day: "numeric", month: "short", year: "2-digit" }).format(
    new Date(instant),
  );

/** Every test of a path, sorted; only what is on the screen is read and drawn. */
export function MeasurementList({ path, timeZone }: { path: string; timeZone: string }) {
  const [chosen, setChosen] = useState<ListedMeasurement | null>(null);
  return (
    <Loaded state={useMeasurementPage(`${path}&skip=0&take=${PAGE}`)}>
      {({ total }) => (
        <>
          {total === 0 ? (
            <Words kind="faded">None of the tests is of this kind.</Words>
          ) : (
            <Words kind="small">● counts for this show. Tap a test for more.</Words>
          )}
          {total > 0 ? (
            <PagedList
              key={path}
              label="Tests"
              total={total}
              pageSize={PAGE}
              rowHeight={60}
              renderPage={(page) => <Page path={`${path}&skip=${page * PAGE}&take=${PAGE}`} timeZone={timeZone} onChoose={setChosen} />}
            />
          ) : null}
          <Overlay title="One test" open={chosen !== null} onClose={() => setChosen(null)}>
            {chosen ? <OneTest test={chosen} timeZone={timeZone} onDone={() => setChosen(null)} /> : null}
          </Overlay>
        </>
      )}
    </Loaded>
  );
}

function Page({ path, timeZone, onChoose }: { path: string; timeZone: string; onChoose: (test: ListedMeasurement) => void }) {
  const { data } = useMeasurementPage(path);
  return (
    <>
      {data?.rows.map((m) => (
        <Line key={m.id} m={m} timeZone={timeZone} onPress={() => onChoose(m)} />
      ))}
    </>
  );
}

function Line({ m, timeZone, onPress }: { m: ListedMeasurement; timeZone: string; onPress: () => void }) {
  const when = `${dayYear(m.takenAt, timeZone)}, ${timeText(m.takenAt, timeZone)}`;
  const shown = rate(m.ownIpBps);
  const facts = [
    m.excluded === null ? null : "excluded",
    m.outlier === null ? null : m.outlier === "low" ? "far below" : "far above",
    m.floor ? "at least" : null,
    m.rttMs === null ? null : `${m.rttMs.toFixed(0)} ms`,
    m.lossRatio === null ? null : `loss ${percent(m.lossRatio, 2)}`,
    m.source,
  ].filter(Boolean);
  return (
    <Pressable
      role="button"
      aria-label={`${when}, ${shown.value} ${shown.unit}, ${facts.join(", ")}${m.counts ? ", counts for this show" : ""}`}
      onPress={onPress}
      className="h-[60px] flex-row items-center justify-between gap-2 border-b border-rule"
    >
      <Text aria-hidden className="w-4 font-words text-base text-deep">
        {m.counts ? "●" : ""}
      </Text>
      <View className="min-w-0 flex-1">
        <Text className="font-words text-base text-ink">{when}</Text>
        <Text numberOfLines={1} className="font-words text-sm text-faded">
          {facts.join(", ")}
        </Text>
      </View>
      <Text className={`font-figures-strong text-base ${m.excluded === null ? "text-ink" : "text-faded line-through"}`}>
        {shown.value}
        <Text className="font-words text-sm text-faded">{` ${shown.unit}`}</Text>
      </Text>
    </Pressable>
  );
}
