import type { PageQuery, UplinkSurvey } from "@ukaza/contract/survey";
import { useState } from "react";
import { View } from "react-native";
import { send } from "../../data/api";
import { download } from "../../data/download";
import { useOrder } from "../../data/hooks";
import { useRefreshLines } from "../../data/useRefresh";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Overlay } from "../../ui/Overlay";
import { Panel } from "../../ui/Panel";
import { ProblemNote } from "../../ui/Problem";
import { Words } from "../../ui/Words";
import { ByHandForm } from "./ByHandForm";
import { ImportSheet } from "./ImportSheet";
import { MeasurementList } from "./MeasurementList";
import { listPath, type SurveyScope } from "./scope";

const shows: { value: PageQuery["show"]; word: string }[] = [
  { value: "all", word: "All" },
  { value: "counting", word: "Counting" },
  { value: "outliers", word: "Far off" },
  { value: "excluded", word: "Excluded" },
];
const sorts: { value: PageQuery["sort"]; word: string }[] = [
  { value: "time", word: "Time" },
  { value: "rate", word: "Rate" },
  { value: "rtt", word: "Round trip" },
  { value: "loss", word: "Loss" },
];

/** Every test of an uplink, and the ways in and out. */
export function TestsPanel({ survey, scope, timeZone }: { survey: UplinkSurvey; scope: SurveyScope; timeZone: string }) {
  const { uplink, result } = survey;
  const refresh = useRefreshLines();
  const { error, run } = useOrder();
  const [open, setOpen] = useState<"import" | "by hand" | null>(null);
  const [said, setSaid] = useState<string | null>(null);
  const [undo, setUndo] = useState<string | null>(null);
  const [show, setShow] = useState<PageQuery["show"]>("all");
  const [sort, setSort] = useState<PageQuery["sort"]>("time");
  const [order, setOrder] = useState<PageQuery["order"]>("desc");
  const pressSort = (next: PageQuery["sort"]) => {
    if (next === sort) setOrder(order === "asc" ? "desc" : "asc");
    else setSort(next);
  };
  const takeBack = async () => {
    const done = await run(() => send<{ removed: number }>("DELETE", `/uplinks/${uplink.id}/imports/${undo}`));
    if (!done) return;
    setSaid(`The import was taken back: ${done.removed} removed.`);
    setUndo(null);
    await refresh();
  };
  return (
    <Panel title={`Tests (${result.total})`}>
      <View className="flex-row flex-wrap gap-2">
        <Button onPress={() => setOpen("import")}>Import a file</Button>
        <Button onPress={() => setOpen("by hand")}>Add by hand</Button>
        {result.total > 0 ? (
          <>
            <Button onPress={() => download(`/uplinks/${uplink.id}/measurements/export?as=csv`)}>Export CSV</Button>
            <Button onPress={() => download(`/uplinks/${uplink.id}/measurements/export?as=json`)}>Export JSON</Button>
          </>
        ) : null}
      </View>
      {said ? (
        <View role="status" className="flex-row items-center justify-between gap-2">
          <Words kind="strong" className="shrink">
            {said}
          </Words>
          {undo ? <Button onPress={() => void takeBack()}>Undo</Button> : null}
        </View>
      ) : null}
      <ProblemNote error={error} />
      {result.total === 0 ? (
        <Words kind="faded">No test yet. One at show time is worth ten in the morning.</Words>
      ) : (
        <>
          <Choice label="Which tests" value={show} options={shows} onChange={setShow} />
          <Choice
            label="Sorted by"
            value={sort}
            options={sorts.map((s) => (s.value === sort ? { ...s, word: `${s.word} ${order === "asc" ? "↑" : "↓"}` } : s))}
            onChange={pressSort}
          />
          <MeasurementList path={`${listPath(scope, uplink.id)}sort=${sort}&order=${order}&show=${show}`} timeZone={timeZone} />
        </>
      )}
      <Overlay title={`Import into ${uplink.name}`} open={open === "import"} onClose={() => setOpen(null)}>
        <ImportSheet
          uplink={uplink}
          timeZone={timeZone}
          onDone={async (words, importId) => {
            setOpen(null);
            setSaid(words);
            setUndo(importId);
            await refresh();
          }}
        />
      </Overlay>
      <Overlay title="A test by hand" open={open === "by hand"} onClose={() => setOpen(null)}>
        <ByHandForm
          uplinkId={uplink.id}
          timeZone={timeZone}
          onDone={async () => {
            setOpen(null);
            setSaid("Test added.");
            setUndo(null);
            await refresh();
          }}
        />
      </Overlay>
    </Panel>
  );
}
