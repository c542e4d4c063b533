import { useState } from "react";
import { View } from "react-native";
import { sendText } from "../../data/api";
import { useOrder } from "../../data/hooks";
import { pickTextFile } from "../../data/pickFile";
import { useRefresh } from "../../data/useRefresh";
import { Button } from "../../ui/Button";
import { Overlay } from "../../ui/Overlay";
import { Panel } from "../../ui/Panel";
import { ProblemNote } from "../../ui/Problem";
import { Words } from "../../ui/Words";
import { ByHandForm } from "./ByHandForm";

interface Imported {
  added: number;
  known: number;
}

/** Tests come in by file or by hand. */
export function AddMeasurements({ uplinkId, eventId, timeZone }: { uplinkId: string; eventId: string; timeZone: string }) {
  const refresh = useRefresh(eventId);
  const { busy, error, run, forget } = useOrder();
  const [said, setSaid] = useState<string | null>(null);
  const [byHand, setByHand] = useState(false);

  const importFile = async () => {
    const file = await pickTextFile();
    if (!file) return;
    setSaid(null);
    const done = await run(() => sendText<Imported>(`/uplinks/${uplinkId}/measurements/import`, file.text));
    if (!done) return;
    setSaid(`${file.name}: ${done.added} added${done.known > 0 ? `, ${done.known} known already` : ""}.`);
    await refresh();
  };
  return (
    <Panel title="Add tests">
      <Words kind="faded">
        {
          "CSV with time,rate_mbps and if known rtt_ms,jitter_ms,loss_pct; or the output of iperf3 -J. Times without an offset are read on the venue's clock."
        }
      </Words>
      <View className="flex-row flex-wrap gap-2">
        <Button look="main" busy={busy} onPress={importFile}>
          Import a file
        </Button>
        <Button
          onPress={() => {
            forget();
            setByHand(true);
          }}
        >
          Add by hand
        </Button>
      </View>
      {said ? (
        <View role="status">
          <Words kind="strong">{said}</Words>
        </View>
      ) : null}
      <ProblemNote error={error} />
      <Overlay title="A test by hand" open={byHand} onClose={() => setByHand(false)}>
        <ByHandForm
          uplinkId={uplinkId}
          timeZone={timeZone}
          onDone={async () => {
            setByHand(false);
            setSaid("Test added.");
            await refresh();
          }}
        />
      </Overlay>
    </Panel>
  );
}
