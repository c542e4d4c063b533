import { useRouter } from "expo-router";
import { useState } from "react";
import { View } from "react-native";
import { useSWRConfig } from "swr";
import { read, send } from "../../data/api";
import { useKit, useOrder } from "../../data/hooks";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Field } from "../../ui/Field";
import { Panel } from "../../ui/Panel";
import { ProblemNote } from "../../ui/Problem";
import { Words } from "../../ui/Words";

interface Waiting {
  serial: string;
  encoder: { id: string; name: string } | null;
  leftS: number;
}

/** An encoder shows a short code; whoever types it here lets that encoder fetch its settings, addresses and keys. */
export function CodePanel({ begin }: { begin: string }) {
  const router = useRouter();
  const { mutate } = useSWRConfig();
  const { data: kit } = useKit();
  const { busy, error, run, forget } = useOrder();
  const [code, setCode] = useState(begin);
  const [found, setFound] = useState<Waiting | null>(null);
  const [chosen, setChosen] = useState("");
  const [done, setDone] = useState<string | null>(null);
  const byCode = (kit ?? []).map((item) => item.encoder).filter((e) => e.setBy === "code");
  const look = async () => {
    const waiting = await run(() => read<Waiting>(`/devices/${encodeURIComponent(code.trim())}`));
    setFound(waiting);
    setChosen(waiting?.encoder?.id ?? "");
  };
  const decide = async (approved: boolean) => {
    const id = chosen || byCode[0]?.id || "";
    if (!(await run(() => send("POST", `/devices/${encodeURIComponent(code.trim())}`, { encoderId: id, approved })))) return;
    await mutate((key) => typeof key === "string" && key.startsWith("/events"));
    setDone(approved ? `${byCode.find((e) => e.id === id)?.name} may now fetch what it is to hold.` : "The code was refused.");
    setFound(null);
  };
  if (done)
    return (
      <Panel title="Done">
        <Words>{done}</Words>
        <Button className="self-start" onPress={() => router.push("/kit")}>
          To the kit
        </Button>
      </Panel>
    );
  return (
    <Panel title="The code on the encoder's screen">
      <Field
        label="Code"
        value={code}
        hint="BCDF-GHJK"
        onChange={(next) => {
          setCode(next);
          setFound(null);
          forget();
        }}
      />
      {found ? (
        <>
          <Words>
            {found.encoder
              ? `${found.encoder.name}, ${found.serial}, asks to be set from here. It will be given the stream keys of its events.`
              : `An encoder with the serial number ${found.serial} asks to be set from here. No encoder under Kit has that number.`}
          </Words>
          {found.encoder || byCode.length === 0 ? null : (
            <Choice
              label="Which one is it?"
              value={chosen}
              options={byCode.map((e) => ({ value: e.id, word: e.name }))}
              onChange={setChosen}
            />
          )}
          <View className="flex-row flex-wrap gap-2">
            <Button look="main" busy={busy} disabled={chosen === ""} onPress={() => void decide(true)}>
              Let it in
            </Button>
            <Button look="danger" busy={busy} disabled={byCode.length === 0} onPress={() => void decide(false)}>
              Refuse it
            </Button>
          </View>
        </>
      ) : (
        <Button look="main" className="self-start" busy={busy} disabled={code.trim() === ""} onPress={() => void look()}>
          Look who asks
        </Button>
      )}
      <ProblemNote error={error} />
    </Panel>
  );
}
