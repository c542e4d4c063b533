/** Why a text is no document, and where; `mend` says what to do. */
export interface TextFault {
  detail: string;
  mend: string;
}

export type TextRead = { value: unknown; fault: null } | { value: null; fault: TextFault };

/** How deep a document of ours can be with room to spare; what is deeper is no document but an attack on its readers. */
const DEEPEST = 40;

/** Reads a JSON text, saying the line and column at which it breaks; texts nested without end are refused unread. */
export function readJsonText(text: string): TextRead {
  const bare = text.replace(/^\uFEFF/, "");
  if (bare.trim() === "") return fault("the file is empty", "Choose the file that was exported.");
  const tooDeep = deeperThan(bare, DEEPEST);
  if (tooDeep !== null)
    return fault(
      `the file is nested more than ${DEEPEST} levels deep at ${placeOf(bare, tooDeep)}`,
      "Ask for the file again where it came from.",
    );
  try {
    return { value: JSON.parse(bare) as unknown, fault: null };
  } catch (error) {
    const said = error instanceof Error ? error.message : "";
    const at = /position (\d+)/.exec(said);
    const cut = /Unexpected end|Unterminated/.test(said);
    const where = at ? ` at ${placeOf(bare, Number(at[1]))}` : cut ? "; it seems to be cut off" : "; it seems to be a file of another kind";
    return fault(`the file is not whole JSON${where}`, "Export or save it again and choose that file.");
  }
}

const fault = (detail: string, mend: string): TextRead => ({ value: null, fault: { detail, mend } });

/** Where a text first goes deeper than `most`; null: nowhere. Signs in strings do not count. */
function deeperThan(text: string, most: number): number | null {
  let depth = 0;
  let inString = false;
  for (let i = 0; i < text.length; i++) {
    const sign = text[i];
    if (inString) {
      if (sign === "\\") i++;
      else if (sign === '"') inString = false;
    } else if (sign === '"') inString = true;
    else if (sign === "{" || sign === "[") {
      if (++depth > most) return i;
    } else if (sign === "}" || sign === "]") depth--;
  }
  return null;
}

/** "line 3, column 14", counted from one. */
function placeOf(text: string, position: number): string {
  const before = text.slice(0, position);
  const line = before.split("\n").length;
  return `line ${line}, column ${position - before.lastIndexOf("\n")}`;
}

/** A file that holds a bare sheet is read as a platform that nothing reaches yet. */
export function asLibraryFile(value: unknown): unknown {
  const isSheet = typeof value === "object" && value !== null && "format" in value && value.format === "ukaza-rule-sheet";
  return isSheet ? { format: "ukaza-platform", version: 1, reach: { driver: "none" }, sheet: value } : value;
}
