import type { RigNow } from "@ukaza/contract/rig";
import { useEffect, useState } from "react";
import { Text, View } from "react-native";
import { send } from "../../data/api";
import { useOrder } from "../../data/hooks";
import { Button } from "../../ui/Button";
import { ProblemNote } from "../../ui/Problem";
import { Words } from "../../ui/Words";

/** A shown key hides itself: the screen may be shared, the phone may lie about. */
const SHOWN_MS = 20_000;

/** One address and its key, masked until somebody asks twice. */
export function IngestRow({ eventId, ingest }: { eventId: string; ingest: RigNow["ingests"][number] }) {
  const { busy, error, run } = useOrder();
  const [asking, setAsking] = useState(false);
  const [key, setKey] = useState<string | null>(null);
  useEffect(() => {
    if (key === null) return;
    const timer = setTimeout(() => setKey(null), SHOWN_MS);
    return () => clearTimeout(timer);
  }, [key]);
  const reveal = async () => {
    setAsking(false);
    const answer = await run(() => send<{ key: string }>("POST", `/events/${eventId}/rig/reveal`, { role: ingest.role }));
    if (answer) setKey(answer.key);
  };
  const name = ingest.role === "main" ? "Main ingest" : "Backup ingest";
  return (
    <View className="gap-2 border-b border-rule pb-3">
      <Words kind="strong">{name}</Words>
      <Text selectable className="font-figures text-base text-ink">
        {ingest.address}
      </Text>
      <View className="flex-row flex-wrap items-center justify-between gap-2">
        <Text
          selectable={key !== null}
          aria-label={key ? "Stream key, shown" : "Stream key, hidden"}
          className="font-figures text-base text-ink"
        >
          {key ?? ingest.keyMasked}
        </Text>
        {key !== null ? (
          <Button label={`Hide the ${ingest.role} key`} onPress={() => setKey(null)}>
            Hide
          </Button>
        ) : asking ? null : (
          <Button label={`Show the ${ingest.role} key`} busy={busy} onPress={() => setAsking(true)}>
            Show the key
          </Button>
        )}
      </View>
      {asking ? (
        <View className="gap-2">
          <Words kind="small">Whoever sees the key can send in your place. It hides itself after 20 seconds.</Words>
          <View className="flex-row gap-2">
            <Button look="danger" onPress={() => void reveal()}>
              Show it
            </Button>
            <Button onPress={() => setAsking(false)}>Leave it hidden</Button>
          </View>
        </View>
      ) : null}
      <ProblemNote error={error} />
    </View>
  );
}
