import type { Revealed, RigField, RigNow } from "@ukaza/contract/rig";
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
  const [shown, setShown] = useState<RigField[] | null>(null);
  useEffect(() => {
    if (shown === null) return;
    const timer = setTimeout(() => setShown(null), SHOWN_MS);
    return () => clearTimeout(timer);
  }, [shown]);
  const reveal = async () => {
    setAsking(false);
    const answer = await run(() => send<Revealed>("POST", `/events/${eventId}/rig/reveal`, { role: ingest.role }));
    if (answer) setShown(answer.fields);
  };
  const name = ingest.role === "main" ? "Main ingest" : "Backup ingest";
  return (
    <View className="gap-2 border-b border-rule pb-3">
      <Words kind="strong">{name}</Words>
      {(shown ?? ingest.fields).map((field) => (
        <View key={field.label} className="gap-0.5">
          <Words kind="small">{field.label}</Words>
          <Text
            selectable={!field.secret || shown !== null}
            aria-label={field.secret ? `${field.label}, ${shown ? "shown" : "hidden"}` : field.label}
            className="font-figures text-base text-ink"
            style={{ wordBreak: "break-all" } as object}
          >
            {field.value}
          </Text>
        </View>
      ))}
      <View className="flex-row flex-wrap items-center gap-2">
        {shown !== null ? (
          <Button label={`Hide the ${ingest.role} key`} onPress={() => setShown(null)}>
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
