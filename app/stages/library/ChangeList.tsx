import type { DocumentChange } from "@ukaza/contract/library";
import { useState } from "react";
import { View } from "react-native";
import { Button } from "../../ui/Button";
import { Words } from "../../ui/Words";
import { changeText } from "../../words/changes";

const SHOWN = 8;

/** What differs between two documents, place by place. */
export function ChangeList({ changes, label }: { changes: DocumentChange[]; label: string }) {
  const [all, setAll] = useState(false);
  const shown = all ? changes : changes.slice(0, SHOWN);
  return (
    <View className="gap-2">
      <View role="list" aria-label={label}>
        {shown.map((change) => {
          const { place, what } = changeText(change);
          return (
            <View key={change.path} role="listitem" className="border-b border-rule py-1">
              <Words kind="strong">{place}</Words>
              <Words>{what}</Words>
            </View>
          );
        })}
      </View>
      {changes.length > SHOWN && !all ? (
        <Button className="self-start" onPress={() => setAll(true)}>
          {`Show all ${changes.length} changes`}
        </Button>
      ) : null}
    </View>
  );
}
