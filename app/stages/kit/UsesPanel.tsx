import type { KitItem, KitUse } from "@ukaza/contract/kit";
import { useState } from "react";
import { View } from "react-native";
import { useSWRConfig } from "swr";
import { send } from "../../data/api";
import { useEvents, useOrder } from "../../data/hooks";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Field } from "../../ui/Field";
import { Panel } from "../../ui/Panel";
import { ProblemNote } from "../../ui/Problem";
import { StateMark } from "../../ui/StateMark";
import { Words } from "../../ui/Words";
import { claimText, doubleText } from "../../words/kit";
import { dayNumberText } from "../../words/units";

/** Whoever checked something out last on this device is likely to do it again. */
let lastBy = "";

/** Where an encoder is planned and out, and the doors for it: check-out and check-in. */
export function UsesPanel({ item }: { item: KitItem }) {
  const { encoder, uses, doubles } = item;
  const { mutate } = useSWRConfig();
  const { data: events } = useEvents();
  const { busy, error, run, forget } = useOrder();
  const [by, setBy] = useState(lastBy);
  const [eventId, setEventId] = useState("");
  const coming = (events ?? []).filter((e) => !e.finishedAt && !uses.some((use) => use.eventId === e.event.id && use.out));
  const tell = async (path: "check-out" | "check-in", body: object) => {
    lastBy = by;
    const kit = await run(() => send<KitItem[]>("POST", `/encoders/${encoder.id}/${path}`, body));
    if (!kit) return;
    setEventId("");
    await mutate("/kit", kit, { revalidate: false });
  };
  const out = (despite: boolean) => tell("check-out", { eventId, by: by.trim(), despite });
  const booked = error?.problem.type.endsWith("double-booking") ?? false;
  return (
    <Panel title="Planned and out">
      {doubles.map((d) => (
        <View key={d.from + d.a.eventId + d.b.eventId} className="gap-1">
          <StateMark health="broken" word="Double booked" />
          <Words>{doubleText(d)}</Words>
        </View>
      ))}
      {uses.length === 0 ? <Words kind="faded">No event has it planned, and it is not out.</Words> : null}
      {uses.map((use) => (
        <Use
          key={use.eventId}
          use={use}
          busy={busy}
          by={by}
          onBack={() => void tell("check-in", { eventId: use.eventId, by: by.trim() })}
        />
      ))}
      <Field label="Your name, for the log" value={by} onChange={setBy} />
      {coming.length > 0 ? (
        <>
          <Words kind="small">Check out to</Words>
          <Choice
            label="Check out to"
            value={eventId}
            options={coming.map((e) => ({ value: e.event.id, word: e.event.name }))}
            onChange={(id) => {
              setEventId(id);
              forget();
            }}
          />
        </>
      ) : null}
      <ProblemNote error={error} />
      {eventId !== "" ? (
        <View className="flex-row flex-wrap gap-2">
          <Button look={booked ? "plain" : "main"} busy={busy} disabled={by.trim() === ""} onPress={() => void out(false)}>
            Check out
          </Button>
          {booked ? (
            <Button look="danger" busy={busy} onPress={() => void out(true)}>
              Take it along despite that
            </Button>
          ) : null}
        </View>
      ) : null}
    </Panel>
  );
}

function Use({ use, busy, by, onBack }: { use: KitUse; busy: boolean; by: string; onBack: () => void }) {
  return (
    <View className="gap-1 border-b border-rule pb-3">
      <Words>{claimText(use)}</Words>
      <Words kind="small">
        {[
          use.planned ? "The event's own encoder." : "Taken along.",
          use.out ? `Out since ${dayNumberText(use.out.at, use.timeZone)}, ${use.out.by}.` : "Not out yet.",
        ].join(" ")}
      </Words>
      {use.out ? (
        <Button className="self-start" busy={busy} disabled={by.trim() === ""} label={`Check in from ${use.eventName}`} onPress={onBack}>
          Check in
        </Button>
      ) : null}
    </View>
  );
}
