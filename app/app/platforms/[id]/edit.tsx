import { useLocalSearchParams, useRouter } from "expo-router";
import { useState } from "react";
import { usePlatform, usePlatforms, useSheetVersion } from "../../../data/hooks";
import { SheetEditor } from "../../../stages/platforms/SheetEditor";
import { Choice } from "../../../ui/Choice";
import { Loaded } from "../../../ui/Loaded";
import { Shelf } from "../../../ui/Shelf";
import { Words } from "../../../ui/Words";

/** Writes a sheet: of a platform in the book, or ("new") of another. One screen, so that the editor is loaded with it alone. */
export default function EditSheet() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return id === "new" ? <NewSheet /> : <EditOne />;
}

/** Edits a platform's sheet, from its newest version or from an older one. */
function EditOne() {
  const { id, version } = useLocalSearchParams<{ id: string; version?: string }>();
  const router = useRouter();
  const back = () => router.push(`/platforms/${id}`);
  const listed = usePlatform(id);
  const older = useSheetVersion(id, version ?? null);
  return (
    <Shelf here="Platforms" wide title={false}>
      <Loaded state={listed}>
        {({ sheet }) => (
          <>
            <Words kind="title">{`Rule sheet of ${sheet.platform.name}`}</Words>
            {version ? (
              <Loaded state={older}>
                {(from) => <SheetEditor key={version} begin={from} held={sheet} onSaved={back} onLeave={back} />}
              </Loaded>
            ) : (
              // The editing goes on from the version it began with, whatever is saved elsewhere meanwhile.
              <SheetEditor key={id} begin={sheet} held={sheet} onSaved={back} onLeave={back} />
            )}
          </>
        )}
      </Loaded>
    </Shelf>
  );
}

/** A platform that is not in the book yet, written from a copy of one that is. */
function NewSheet() {
  const { from } = useLocalSearchParams<{ from?: string }>();
  const router = useRouter();
  const [chosen, setChosen] = useState<string | null>(from ?? null);
  return (
    <Shelf here="Platforms" wide title={false}>
      <Words kind="title">A new rule sheet</Words>
      <Loaded state={usePlatforms()}>
        {(listed) => {
          const begin = listed.find((l) => l.sheet.platform.id === chosen)?.sheet;
          if (listed.length === 0) return <Words kind="faded">There is no sheet to copy yet. Import one first.</Words>;
          return begin ? (
            <SheetEditor
              key={begin.platform.id}
              begin={begin}
              held={null}
              onSaved={(id) => router.push(`/platforms/${id}`)}
              onLeave={() => router.push("/platforms")}
            />
          ) : (
            <>
              <Words>Which sheet is it most like? Its rules are copied; you change what the help page says otherwise.</Words>
              <Choice
                label="Copy of"
                value={chosen ?? ""}
                options={listed.map((l) => ({ value: l.sheet.platform.id, word: l.sheet.platform.name }))}
                onChange={setChosen}
              />
            </>
          );
        }}
      </Loaded>
    </Shelf>
  );
}
