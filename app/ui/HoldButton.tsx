import { useEffect, useRef, useState } from "react";
import { Pressable, Text, View } from "react-native";
import { Button } from "./Button";
import { Words } from "./Words";

const HOLD_MS = 1_000;
const STEP_MS = 50;

interface Props {
  children: string;
  /** What cannot be undone. */
  warning: string;
  onConfirm: () => void;
  busy?: boolean;
}

/**
 * A dangerous step: press and hold for one second. With the keyboard or a screen reader, which cannot hold, a press
 * asks once more beneath. A short touch does nothing but say how it works.
 */
export function HoldButton({ children, warning, onConfirm, busy = false }: Props) {
  const [heldMs, setHeldMs] = useState<number | null>(null);
  const [asking, setAsking] = useState(false);
  const [hint, setHint] = useState(false);
  const byPointer = useRef(false);
  useEffect(() => {
    if (heldMs === null) return;
    if (heldMs >= HOLD_MS) {
      setHeldMs(null);
      setHint(false);
      onConfirm();
      return;
    }
    const timer = setTimeout(() => setHeldMs(heldMs + STEP_MS), STEP_MS);
    return () => clearTimeout(timer);
  }, [heldMs, onConfirm]);

  const release = () => {
    if (heldMs !== null) setHint(true);
    setHeldMs(null);
  };
  const pressed = () => {
    if (!byPointer.current) setAsking(true);
    byPointer.current = false;
  };
  return (
    <View className="gap-2">
      <Words kind="small">{warning}</Words>
      <Pressable
        role="button"
        aria-label={`${children}. Press and hold for one second.`}
        aria-busy={busy}
        aria-disabled={busy}
        disabled={busy}
        onPointerDown={() => {
          byPointer.current = true;
          setHint(false);
          setHeldMs(0);
        }}
        onPointerUp={release}
        onPointerLeave={release}
        onPointerCancel={release}
        onPress={pressed}
        className="min-h-[56px] select-none justify-center overflow-hidden rounded border-2 border-broken bg-sheet px-4"
      >
        <View className="absolute bottom-0 left-0 top-0 bg-broken/25" style={{ width: `${((heldMs ?? 0) / HOLD_MS) * 100}%` }} />
        <Text className="text-center font-strong text-lg text-broken">
          {busy ? "One moment…" : heldMs === null ? `Hold: ${children}` : "Keep holding…"}
        </Text>
      </Pressable>
      {hint ? <Words kind="small">Keep it pressed for one second. Nothing has happened yet.</Words> : null}
      {asking ? (
        <View className="gap-2 rounded border border-broken p-3">
          <Words>{`Really: ${children.toLowerCase()}? ${warning}`}</Words>
          <View className="flex-row flex-wrap gap-2">
            <Button
              look="danger"
              onPress={() => {
                setAsking(false);
                onConfirm();
              }}
            >{`Yes, ${children.toLowerCase()}`}</Button>
            <Button onPress={() => setAsking(false)}>No</Button>
          </View>
        </View>
      ) : null}
    </View>
  );
}
