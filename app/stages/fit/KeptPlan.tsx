import type { EventPlan } from "@ukaza/contract/eventPlan";
import { useState } from "react";
import { View } from "react-native";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Removal } from "../../ui/Removal";
import { Words } from "../../ui/Words";
import { dayText, timeText } from "../../words/units";

interface Props {
  kept: EventPlan;
  /** The event goes by it: it stays as it is. */
  goneBy: boolean;
  /** Who is served by it, as a sentence. */
  served: string;
  timeZone: string;
  busy: boolean;
  onCompare: () => void;
  /** null: nothing can be taken up any more. */
  onTake: (() => void) | null;
  /** Gives whether it was done. */
  onRename: (name: string) => Promise<boolean>;
  onRemove: () => void;
}

/** One plan that was kept, and what can be done with it. */
export function KeptPlan({ kept, goneBy, served, timeZone, busy, onCompare, onTake, onRename, onRemove }: Props) {
  const [name, setName] = useState<string | null>(null);
  const rename = async (to: string) => {
    if (await onRename(to)) setName(null);
  };
  return (
    <View role="listitem" aria-label={kept.name} className="gap-2 border-b border-rule pb-3">
      <Words kind="strong">{`${kept.name}${goneBy ? ": the event goes by it" : ""}`}</Words>
      <Words kind="small">{`${served} ${kept.plan.points.toFixed(1)} points when it was kept, ${dayText(kept.savedAt, timeZone)}, ${timeText(kept.savedAt, timeZone)}.`}</Words>
      {name === null ? (
        <View className="flex-row flex-wrap gap-2">
          <Button label={`Compare ${kept.name} with the plan in hand`} onPress={onCompare}>
            Compare
          </Button>
          {onTake ? (
            <Button label={`Take up ${kept.name}`} onPress={onTake}>
              Take it up
            </Button>
          ) : null}
          {goneBy ? null : (
            <>
              <Button label={`Rename ${kept.name}`} onPress={() => setName(kept.name)}>
                Rename
              </Button>
              <Removal
                word={`Remove ${kept.name}`}
                question={`"${kept.name}" is thrown away. What the event goes by stays as it is.`}
                onRemove={onRemove}
              />
            </>
          )}
        </View>
      ) : (
        <View className="flex-row flex-wrap items-end gap-2">
          <Field
            narrow
            label={`New name of ${kept.name}`}
            value={name}
            onChange={setName}
            error={name.trim() === "" ? "A plan needs a name. Type one." : undefined}
          />
          <Button
            look="main"
            busy={busy}
            disabled={name.trim() === ""}
            label={`Rename to ${name.trim()}`}
            onPress={() => void rename(name.trim())}
          >
            Rename
          </Button>
          <Button onPress={() => setName(null)}>Leave it</Button>
        </View>
      )}
    </View>
  );
}
