import type { Sustainable } from "@ukaza/contract/survey";
import { useState } from "react";
import { View } from "react-native";
import { send } from "../../data/api";
import { useOrder } from "../../data/hooks";
import { useRefreshLines } from "../../data/useRefresh";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { ProblemNote } from "../../ui/Problem";
import { percent } from "../../words/units";

/** The reserve set by hand. Emptying it goes back to what the evidence asks for. */
export function ReserveField({ uplinkId, result }: { uplinkId: string; result: Sustainable }) {
  const refresh = useRefreshLines();
  const { busy, error, run } = useOrder();
  const [open, setOpen] = useState(false);
  const [text, setText] = useState(String(Math.round(result.reserve * 100)));
  const value = Number(text.replace(",", "."));
  const wrong = text.trim() === "" || !Number.isFinite(value) || value < 0 || value > 90;
  const save = async (reserveOverride: number | null) => {
    if (await run(() => send("PATCH", `/uplinks/${uplinkId}`, { reserveOverride }))) {
      setOpen(false);
      await refresh();
    }
  };
  if (!open)
    return (
      <Button className="self-start" onPress={() => setOpen(true)}>
        Change the reserve
      </Button>
    );
  return (
    <View className="gap-3 border-t border-rule pt-3">
      <Field label="Reserve" unit="%" numeric value={text} onChange={setText} error={wrong ? "Give a share from 0 to 90." : undefined} />
      <ProblemNote error={error} />
      <View className="flex-row flex-wrap gap-2">
        <Button look="main" busy={busy} disabled={wrong} onPress={() => save(value / 100)}>
          Set
        </Button>
        <Button busy={busy} onPress={() => save(null)}>{`Use ${percent(result.ruleReserve)} as the evidence asks`}</Button>
        <Button onPress={() => setOpen(false)}>Cancel</Button>
      </View>
    </View>
  );
}
