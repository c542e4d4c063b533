import { exclusion, type ListedMeasurement } from "@ukaza/contract/survey";
import { useState } from "react";
import { View } from "react-native";
import { send } from "../../data/api";
import { useOrder } from "../../data/hooks";
import { useRefreshLines } from "../../data/useRefresh";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { ProblemNote } from "../../ui/Problem";
import { Row } from "../../ui/Row";
import { Words } from "../../ui/Words";
import { dayNumberText, percent, rateText } from "../../words/units";

/** One test in full, and whether it counts. */
export function OneTest({ test, timeZone, onDone }: { test: ListedMeasurement; timeZone: string; onDone: () => void }) {
  const refresh = useRefreshLines();
  const { busy, error, run } = useOrder();
  const [reason, setReason] = useState("");
  const [tried, setTried] = useState(false);
  const valid = exclusion.safeParse(reason).success;
  const finish = async (work: () => Promise<unknown>) => {
    if (!(await run(work))) return;
    await refresh();
    onDone();
  };
  const path = `/measurements/${test.id}/excluded`;
  const known = (value: number | null, say: (value: number) => string) => (value === null ? "not measured" : say(value));
  return (
    <>
      <View>
        <Row label="Taken">{dayNumberText(test.takenAt, timeZone)}</Row>
        <Row label="Own rate, at the IP layer">{rateText(test.ownIpBps)}</Row>
        {test.atShowBps !== test.ownIpBps ? <Row label="As it would be at show time">{rateText(test.atShowBps)}</Row> : null}
        <Row label="Round trip">{known(test.rttMs, (ms) => `${ms.toFixed(1)} ms`)}</Row>
        <Row label="Jitter">{known(test.jitterMs, (ms) => `${ms.toFixed(1)} ms`)}</Row>
        <Row label="Loss">{known(test.lossRatio, (share) => percent(share, 3))}</Row>
        <Row label="Came by">{test.source}</Row>
      </View>
      <Words>{standing(test)}</Words>
      <ProblemNote error={error} />
      {test.excluded === null ? (
        <>
          <Field
            label="Why it should not count"
            hint="the cable was out"
            value={reason}
            onChange={setReason}
            error={tried && !valid ? "Say it in a few words, 3 to 200 characters." : undefined}
          />
          <Button
            busy={busy}
            onPress={() => {
              setTried(true);
              if (valid) void finish(() => send("PUT", path, { reason: reason.trim() }));
            }}
          >
            Exclude this test
          </Button>
        </>
      ) : (
        <Button look="main" busy={busy} onPress={() => void finish(() => send("DELETE", path))}>
          Let it count again
        </Button>
      )}
    </>
  );
}

function standing(test: ListedMeasurement): string {
  if (test.excluded !== null) return `Excluded: ${test.excluded}. It stays on the list.`;
  if (test.floor) return "A run at a set rate that lost nothing: the line carries at least this. It never lowers the sustainable rate.";
  const odd = test.outlier === null ? "" : ` It lies far ${test.outlier === "low" ? "below" : "above"} the others of its hour.`;
  return `${test.counts ? "It counts for this show." : "It is of other hours, another kind of day, or too old to count for this show."}${odd}`;
}
