import type { KitItem } from "@ukaza/contract/kit";
import { Link, useRouter } from "expo-router";
import { useState } from "react";
import { View } from "react-native";
import { useKit } from "../../data/hooks";
import { FreePanel } from "../../stages/kit/FreePanel";
import { ImportLibrary } from "../../stages/library/ImportLibrary";
import { Button } from "../../ui/Button";
import { Loaded } from "../../ui/Loaded";
import { Overlay } from "../../ui/Overlay";
import { Shelf } from "../../ui/Shelf";
import { StateMark } from "../../ui/StateMark";
import { Words } from "../../ui/Words";
import { doubleText, encoderSummary } from "../../words/kit";

/** The crew's encoders: what they are, where they are, and whether they are free. */
export default function Kit() {
  const router = useRouter();
  const [importing, setImporting] = useState(false);
  return (
    <Shelf here="Kit">
      <View className="flex-row flex-wrap gap-2">
        <Button onPress={() => router.push("/kit/new/edit")}>Add an encoder</Button>
        <Button onPress={() => setImporting(true)}>Import</Button>
        <Button onPress={() => router.push("/kit/code")}>Approve a code</Button>
      </View>
      <Loaded state={useKit()}>
        {(kit) =>
          kit.length === 0 ? (
            <Words kind="faded">Kit is the crew's encoders, with what they can do and where they are. Add the first.</Words>
          ) : (
            <>
              <FreePanel kit={kit} />
              {kit.map((item) => (
                <EncoderCard key={item.encoder.id} item={item} />
              ))}
            </>
          )
        }
      </Loaded>
      <Overlay title="Import" open={importing} onClose={() => setImporting(false)}>
        <ImportLibrary onDone={(kind, id) => router.push(kind === "sheet" ? `/platforms/${id}` : `/kit/${id}`)} />
      </Overlay>
    </Shelf>
  );
}

function EncoderCard({ item: { encoder, uses, doubles } }: { item: KitItem }) {
  const out = uses.filter((use) => use.out);
  return (
    <Link href={`/kit/${encoder.id}`} aria-label={`${encoder.name}, ${encoder.kind}`} asChild>
      <View role="link" tabIndex={0} className="gap-1 rounded border border-rule bg-sheet p-4">
        <Words kind="heading">{encoder.name}</Words>
        <Words>{encoderSummary(encoder)}</Words>
        {encoder.note ? <Words kind="small">{encoder.note}</Words> : null}
        {out.map((use) => (
          <Words key={use.eventId} kind="small">{`Out for ${use.eventName}, ${use.out?.by}.`}</Words>
        ))}
        {doubles.map((d) => (
          <View key={d.from + d.b.eventId} className="gap-1">
            <StateMark health="broken" word="Double booked" />
            <Words>{doubleText(d)}</Words>
          </View>
        ))}
      </View>
    </Link>
  );
}
