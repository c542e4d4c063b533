import type { NewerSheet } from "@ukaza/contract/library";
import { useState } from "react";
import { View } from "react-native";
import { send } from "../data/api";
import { useNewerSheets, useOrder } from "../data/hooks";
import { useRefresh } from "../data/useRefresh";
import { Button } from "../ui/Button";
import { Overlay } from "../ui/Overlay";
import { ProblemNote } from "../ui/Problem";
import { Words } from "../ui/Words";
import { ChangeList } from "./library/ChangeList";

const heldText: Record<string, string> = {
  "already-sending": "The encoder is sending: this event keeps the sheet it was planned with.",
  "event-finished": "This event is over and keeps the sheet it was planned with.",
};

/** Says that a platform's rule sheet is newer than the one an event was planned with, and what has changed. */
export function NewerSheets({ eventId }: { eventId: string }) {
  const { data } = useNewerSheets(eventId);
  return (
    <>
      {(data ?? []).map((sheet) => (
        <Newer key={sheet.platformId} eventId={eventId} sheet={sheet} />
      ))}
    </>
  );
}

function Newer({ eventId, sheet }: { eventId: string; sheet: NewerSheet }) {
  const [open, setOpen] = useState(false);
  const refresh = useRefresh(eventId);
  const { busy, error, run } = useOrder();
  const { platformName, planned, newest, changes, held } = sheet;
  const renew = async () => {
    if (!(await run(() => send("POST", `/events/${eventId}/sheets/${sheet.platformId}`)))) return;
    setOpen(false);
    await refresh();
  };
  return (
    <View role="status" className="flex-row flex-wrap items-center justify-between gap-2 rounded border border-deep bg-sheet p-2">
      <Words kind="small" tone="text-ink" className="shrink">
        {`The rule sheet of ${platformName} is newer than the one this event was planned with.`}
      </Words>
      <Button onPress={() => setOpen(true)}>What changed</Button>
      <Overlay title={`${platformName}, version ${planned} to ${newest}`} open={open} onClose={() => setOpen(false)}>
        {changes.length === 0 ? (
          <Words>Nothing that counts: both versions say the same.</Words>
        ) : (
          <ChangeList changes={changes} label={`What changed in the sheet of ${platformName}`} />
        )}
        <ProblemNote error={error} />
        {held ? (
          <Words kind="faded">{heldText[held] ?? "This event keeps the sheet it was planned with."}</Words>
        ) : (
          <>
            <Words kind="small">The settings that were chosen stay; Fit says what the new sheet has against them.</Words>
            <Button look="main" busy={busy} onPress={() => void renew()}>
              {`Plan with version ${newest}`}
            </Button>
          </>
        )}
      </Overlay>
    </View>
  );
}
