import type { LineTrouble, LineUplink } from "@ukaza/contract/standins";
import { useState } from "react";
import { View } from "react-native";
import { send } from "../../data/api";
import { useAir, useOrder, useTrouble } from "../../data/hooks";
import { Button } from "../../ui/Button";
import { Overlay } from "../../ui/Overlay";
import { ProblemNote } from "../../ui/Problem";
import { Words } from "../../ui/Words";
import { rateText } from "../../words/units";

/** What the line sinks to, as a share of the main feed's target: enough to strain it, not to break it. */
const SINK_SHARE = 0.7;

/** The demo's trouble sheet: it tells the stand-in line to sink, cut or recover, so that a person can see what follows. */
export function TroubleSheet({ eventId }: { eventId: string }) {
  const [open, setOpen] = useState(false);
  const { data: air } = useAir(eventId);
  const trouble = useTrouble(eventId, open);
  const { busy, error, run } = useOrder();
  const order = async (uplinkId: string, change: LineTrouble) => {
    if (await run(() => send<LineUplink>("POST", `/events/${eventId}/air/trouble`, { uplinkId, change }))) await trouble.mutate();
  };
  return (
    <>
      <Button onPress={() => setOpen(true)}>Trouble sheet (demo)</Button>
      <Overlay title="Trouble sheet" open={open} onClose={() => setOpen(false)}>
        <Words kind="faded">
          This troubles the simulated line, to see what Ukaza does. Strained comes after seconds, broken and the switch a little later.
        </Words>
        <ProblemNote error={error} />
        {(trouble.data ?? []).map((u) => {
          const feed = air?.feeds.find((f) => f.uplinkId === u.id);
          const sinkTo = Math.round(((feed?.targetBps ?? 4_000_000) * SINK_SHARE) / 100_000) * 100_000;
          const name = feed?.uplinkName ?? u.id;
          return (
            <View key={u.id} className="gap-2 border-b border-rule pb-3">
              <Words kind="strong">{`${name}: ${u.trouble === "none" ? "no trouble" : u.trouble}, ${rateText(u.capacityBps)}`}</Words>
              <View className="flex-row flex-wrap gap-2">
                <Button
                  busy={busy}
                  label={`Sink ${name}`}
                  onPress={() => void order(u.id, { kind: "sink", toBps: sinkTo })}
                >{`Sink to ${rateText(sinkTo)}`}</Button>
                <Button busy={busy} look="danger" label={`Cut ${name}`} onPress={() => void order(u.id, { kind: "cut" })}>
                  Cut
                </Button>
                <Button busy={busy} look="main" label={`Recover ${name}`} onPress={() => void order(u.id, { kind: "recover" })}>
                  Recover
                </Button>
              </View>
            </View>
          );
        })}
      </Overlay>
    </>
  );
}
