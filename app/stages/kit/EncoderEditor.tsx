import type { Encoder } from "@ukaza/contract/encoder";
import { documentDiff } from "@ukaza/core/formats/documentDiff";
import { useMemo, useState } from "react";
import { useForm, useWatch } from "react-hook-form";
import { View } from "react-native";
import { useSWRConfig } from "swr";
import { send } from "../../data/api";
import { useOrder } from "../../data/hooks";
import { countFaults, typedResolver } from "../../data/typedForm";
import { useLeaveGuard } from "../../data/useLeaveGuard";
import { Button } from "../../ui/Button";
import { Panel } from "../../ui/Panel";
import { ProblemNote } from "../../ui/Problem";
import { Words } from "../../ui/Words";
import { ChangeList } from "../library/ChangeList";
import { EncoderSections } from "./EncoderSections";
import { encoderFaults, type TypedEncoder, toTypedEncoder, typedEncoder } from "./encoderTyped";

interface Props {
  begin: Encoder;
  /** Whether it takes the place of what it began from; else it is another encoder. */
  held: boolean;
  onSaved: (id: string) => void;
  onLeave: () => void;
}

/** Writes an encoder into the list of kit. One that is reached can be asked for what it can do. */
export function EncoderEditor({ begin, held, onSaved, onLeave }: Props) {
  const { mutate } = useSWRConfig();
  const { busy, error, run } = useOrder();
  const [said, setSaid] = useState<Encoder | null>(null);
  const resolver = useMemo(() => typedResolver<TypedEncoder>((typed) => encoderFaults(typed, begin)), [begin]);
  const { control, handleSubmit, formState, reset, trigger } = useForm<TypedEncoder>({
    resolver,
    defaultValues: { ...toTypedEncoder(begin), ...(held ? {} : { name: "", serial: "" }) },
    mode: "onChange",
  });
  const now = useWatch({ control }) as TypedEncoder;
  const typed = useMemo(() => typedEncoder(now, begin), [now, begin]);
  const changes = useMemo(() => (held && typed ? documentDiff(begin, typed) : []), [held, typed, begin]);
  useLeaveGuard(formState.isDirty);
  const faults = countFaults(formState.errors);
  const save = async () => {
    await handleSubmit(async () => {
      if (!typed) return;
      const saved = await run(() => send<{ id: string }>(held ? "PUT" : "POST", held ? `/encoders/${begin.id}` : "/encoders", typed));
      if (!saved) return;
      await mutate((key) => typeof key === "string" && /^\/(kit|encoders|events)/.test(key));
      onSaved(saved.id);
    })();
    await trigger();
  };
  const { driver, name, address } = now.reach;
  const ask = async () => {
    const reach = driver === "http" ? { driver, address: address.trim() } : { driver, name: name.trim() };
    setSaid(await run(() => send<Encoder>("POST", "/encoders/ask", { reach, serial: now.serial.trim() })));
  };
  const takeOver = () => {
    if (!said) return;
    // What the crew calls it, and how it is reached, is not the device's to say.
    const own = { ...(now.name.trim() === "" ? {} : { name: now.name }), note: now.note, reach: now.reach };
    reset({ ...toTypedEncoder(said), ...own }, { keepDefaultValues: true });
    setSaid(null);
  };
  return (
    <View className="gap-3">
      <EncoderSections control={control} errors={formState.errors} />
      {driver === "none" ? null : (
        <Button className="self-start" busy={busy} onPress={() => void ask()}>
          Ask the encoder what it can do
        </Button>
      )}
      {said && typed ? <Said said={said} typed={typed} onTake={takeOver} onLeave={() => setSaid(null)} /> : null}
      {changes.length > 0 ? (
        <Panel title="Changes">
          <ChangeList changes={changes} label="Changes against what is saved" />
        </Panel>
      ) : null}
      <ProblemNote error={error} />
      {faults > 0 ? (
        <Words tone="text-broken" testID="faults">
          {`${faults === 1 ? "One field keeps" : `${faults} fields keep`} this from being an encoder; they say why.`}
        </Words>
      ) : null}
      <View className="flex-row flex-wrap gap-2">
        <Button look="main" busy={busy} onPress={() => void save()}>
          {held ? "Save the encoder" : "Add the encoder"}
        </Button>
        <Button onPress={onLeave}>{formState.isDirty ? "Leave without saving" : "Back"}</Button>
      </View>
    </View>
  );
}

/** What the device says of itself against what is typed. */
function Said({ said, typed, onTake, onLeave }: { said: Encoder; typed: Encoder; onTake: () => void; onLeave: () => void }) {
  const ours = new Set(["id", "name", "note", "reach"]);
  const changes = documentDiff(typed, said).filter((c) => !ours.has(c.path.split(/[.[]/)[0] ?? ""));
  return (
    <Panel title={`It says it is ${said.name}${said.serial ? `, ${said.serial}` : ""}`}>
      {changes.length === 0 ? (
        <Words>What is typed here is what it says of itself.</Words>
      ) : (
        <ChangeList changes={changes} label="What the encoder says otherwise" />
      )}
      <View className="flex-row flex-wrap gap-2">
        {changes.length > 0 ? (
          <Button look="main" onPress={onTake}>
            Take what it says
          </Button>
        ) : null}
        <Button onPress={onLeave}>{changes.length > 0 ? "Keep what is typed" : "Good"}</Button>
      </View>
    </Panel>
  );
}
