import { useState } from "react";
import { usePlatforms } from "../data/hooks";
import { ComparePanel } from "../stages/platforms/ComparePanel";
import { SheetPanel } from "../stages/platforms/SheetPanel";
import { Choice } from "../ui/Choice";
import { Loaded } from "../ui/Loaded";
import { Shelf } from "../ui/Shelf";
import { Words } from "../ui/Words";

const views = [
  { value: "sheets", word: "Rule sheets" },
  { value: "compare", word: "Compare" },
] as const;

/** What each platform takes, by its rule sheet, and all of them compared. */
export default function Platforms() {
  const [view, setView] = useState<(typeof views)[number]["value"]>("sheets");
  return (
    <Shelf here="Platforms" wide={view === "compare"}>
      <Choice label="View" value={view} options={views} onChange={setView} />
      <Loaded state={usePlatforms()}>
        {(sheets) => {
          if (sheets.length === 0) return <Words kind="faded">No rule sheet yet. Import a platform's file to begin.</Words>;
          return view === "compare" ? (
            <ComparePanel sheets={sheets} />
          ) : (
            sheets.map((sheet) => <SheetPanel key={sheet.platform.id} sheet={sheet} />)
          );
        }}
      </Loaded>
    </Shelf>
  );
}
