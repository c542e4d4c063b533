import { useLocalSearchParams, useRouter } from "expo-router";
import { useState } from "react";
import { usePlatforms } from "../../data/hooks";
import { SheetEditor } from "../../stages/platforms/SheetEditor";
import { Choice } from "../../ui/Choice";
import { Loaded } from "../../ui/Loaded";
import { Shelf } from "../../ui/Shelf";
import { Words } from "../../ui/Words";

/** A platform that is not in the book yet, written from a copy of one that is. */
export default function NewSheet() {
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
