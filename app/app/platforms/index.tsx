import type { ListedSheet } from "@ukaza/contract/library";
import { Link, useRouter } from "expo-router";
import { useState } from "react";
import { View } from "react-native";
import { usePlatforms } from "../../data/hooks";
import { ImportLibrary } from "../../stages/library/ImportLibrary";
import { ComparePanel } from "../../stages/platforms/ComparePanel";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Loaded } from "../../ui/Loaded";
import { Overlay } from "../../ui/Overlay";
import { Shelf } from "../../ui/Shelf";
import { Words } from "../../ui/Words";
import { sheetSummary } from "../../words/sheet";

const views = [
  { value: "sheets", word: "Rule sheets" },
  { value: "compare", word: "Compare" },
] as const;

/** The book of rule sheets: what each platform takes, and all of them compared. */
export default function Platforms() {
  const router = useRouter();
  const [view, setView] = useState<(typeof views)[number]["value"]>("sheets");
  const [importing, setImporting] = useState(false);
  return (
    <Shelf here="Platforms" wide={view === "compare"}>
      <Choice label="View" value={view} options={views} onChange={setView} />
      <Loaded state={usePlatforms()}>
        {(listed) =>
          view === "compare" && listed.length > 0 ? (
            <ComparePanel sheets={listed.map((l) => l.sheet)} />
          ) : (
            <>
              <View className="flex-row flex-wrap gap-2">
                <Button onPress={() => router.push("/platforms/new/edit")}>Write a sheet</Button>
                <Button onPress={() => setImporting(true)}>Import</Button>
              </View>
              {listed.length === 0 ? <Words kind="faded">No rule sheet yet. Import a platform's file, or write its sheet.</Words> : null}
              {listed.map((l) => (
                <SheetCard key={l.sheet.platform.id} listed={l} />
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

function SheetCard({ listed: { sheet, versions } }: { listed: ListedSheet }) {
  const { platform, source } = sheet;
  return (
    <Link href={`/platforms/${platform.id}`} aria-label={`${platform.name}, version ${sheet.revision}`} asChild>
      <View role="link" tabIndex={0} className="gap-1 rounded border border-rule bg-sheet p-4">
        <Words kind="heading">{platform.name}</Words>
        <Words>{sheetSummary(sheet)}</Words>
        <Words kind="small">{`Version ${sheet.revision}${versions > 1 ? ` of ${versions}` : ""}, checked ${source.checkedOn} by ${source.checkedBy}.`}</Words>
      </View>
    </Link>
  );
}
