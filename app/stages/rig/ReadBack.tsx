import type { HeldField, RigNow } from "@ukaza/contract/rig";
import type { Settings } from "@ukaza/contract/settings";
import { useState } from "react";
import { Text, View } from "react-native";
import { Button } from "../../ui/Button";
import { Panel } from "../../ui/Panel";
import { StateMark, StateShape } from "../../ui/StateMark";
import { Words } from "../../ui/Words";
import { fieldWord, valueText } from "../../words/findings";

interface Props {
  readBack: NonNullable<RigNow["readBack"]>;
  busy: boolean;
  sending: boolean;
  /** Read from what the platform receives, since the encoder cannot be asked. */
  byHand: boolean;
  onAgain: () => Promise<void>;
}

const isSetting = (field: string): field is keyof Settings => field in fieldWord;

function fieldName(f: HeldField): string {
  if (isSetting(f.field)) return fieldWord[f.field];
  return `${f.feed === "main" ? "Main" : "Backup"} ${f.field}`;
}

function shown(f: HeldField, value: string): string {
  if (!isSetting(f.field) || value === "nothing") return value;
  const number = Number(value);
  return valueText(f.field, Number.isFinite(number) && f.field !== "frameRate" ? number : value);
}

/** What the encoder was told against what it holds: differences first, the rest on request. */
export function ReadBack({ readBack, busy, sending, byHand, onAgain }: Props) {
  const [all, setAll] = useState(false);
  const differing = readBack.fields.filter((f) => !f.equal);
  const rows = all ? readBack.fields : differing;
  return (
    <Panel
      title={byHand ? "What the platform receives" : "Read back from the encoder"}
      aside={
        sending || byHand ? null : (
          <Button busy={busy} onPress={() => void onAgain()}>
            Read again
          </Button>
        )
      }
    >
      <StateMark
        health={readBack.equal ? "steady" : "broken"}
        word={
          readBack.equal
            ? `All ${readBack.fields.length} fields are as told`
            : `${differing.length} of ${readBack.fields.length} fields differ`
        }
      />
      {rows.length > 0 ? (
        <View role="table" aria-label="Fields told and held">
          {rows.map((f) => (
            <View
              role="row"
              key={`${f.feed}${f.field}${f.held}`}
              className="min-h-[36px] flex-row items-center gap-2 border-b border-rule py-1"
            >
              <StateShape health={f.equal ? "steady" : "broken"} size={12} />
              <Text role="cell" className="w-[38%] font-words text-sm text-faded">
                {fieldName(f)}
              </Text>
              <View role="cell" className="flex-1">
                <Text className="font-figures text-sm text-ink">{shown(f, f.held)}</Text>
                {f.equal ? null : <Text className="font-words text-sm text-broken">{`told: ${shown(f, f.wanted)}`}</Text>}
              </View>
            </View>
          ))}
        </View>
      ) : null}
      <Button className="self-start" onPress={() => setAll(!all)}>
        {all ? "Show differences only" : "Show every field"}
      </Button>
      {readBack.equal ? null : (
        <Words kind="small">
          {byHand
            ? "Correct these fields on the encoder's own page."
            : "The encoder may round to its own steps, or somebody changed it by hand."}
        </Words>
      )}
    </Panel>
  );
}
