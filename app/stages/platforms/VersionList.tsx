import type { SheetVersion } from "@ukaza/contract/library";
import { useState } from "react";
import { View } from "react-native";
import { Button } from "../../ui/Button";
import { Panel } from "../../ui/Panel";
import { Words } from "../../ui/Words";
import { dayNumberText } from "../../words/units";
import { ChangeList } from "../library/ChangeList";

const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;

/** Every version of a sheet, the newest first: who checked it, what it changed, which events were planned with it. */
export function VersionList({ versions, onEditFrom }: { versions: SheetVersion[]; onEditFrom: (revision: number) => void }) {
  return (
    <Panel title={`Versions (${versions.length})`}>
      <View role="list" aria-label="Versions">
        {versions.map((v, i) => (
          <Version
            key={v.revision}
            version={v}
            newest={i === 0}
            first={i === versions.length - 1}
            onEditFrom={() => onEditFrom(v.revision)}
          />
        ))}
      </View>
    </Panel>
  );
}

function Version({
  version: v,
  newest,
  first,
  onEditFrom,
}: {
  version: SheetVersion;
  newest: boolean;
  first: boolean;
  onEditFrom: () => void;
}) {
  const [open, setOpen] = useState(false);
  const count = v.changes.length === 1 ? "1 change" : `${v.changes.length} changes`;
  return (
    <View role="listitem" className="gap-2 border-b border-rule py-2">
      <Words kind="strong">{`Version ${v.revision}${newest ? ", the newest" : ""}`}</Words>
      <Words kind="small">{`Saved ${dayNumberText(v.savedAt, zone)}; checked ${v.checkedOn} by ${v.checkedBy}.`}</Words>
      {v.events.length > 0 ? <Words kind="small">{`Planned with it: ${v.events.map((e) => e.name).join(", ")}.`}</Words> : null}
      {open ? <ChangeList changes={v.changes} label={`Changes of version ${v.revision}`} /> : null}
      <View className="flex-row flex-wrap gap-2">
        {first || v.changes.length === 0 ? null : (
          <Button label={`${open ? "Hide the" : "Show the"} changes of version ${v.revision}`} onPress={() => setOpen(!open)}>
            {open ? "Hide the changes" : count}
          </Button>
        )}
        {newest ? null : (
          <Button label={`Edit from version ${v.revision}`} onPress={onEditFrom}>
            Edit from this one
          </Button>
        )}
      </View>
    </View>
  );
}
