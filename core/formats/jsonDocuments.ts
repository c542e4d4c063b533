/** Texts of the JSON documents that stand one after the other in a file, as a program that appends leaves them. */
export function splitDocuments(text: string): string[] {
  const found: string[] = [];
  let depth = 0;
  let start = -1;
  let inString = false;
  for (let i = 0; i < text.length; i++) {
    const sign = text[i];
    if (inString) {
      if (sign === "\\") i++;
      else if (sign === '"') inString = false;
    } else if (sign === '"') inString = true;
    else if (sign === "{" || sign === "[") {
      if (depth++ === 0) start = i;
    } else if ((sign === "}" || sign === "]") && depth > 0 && --depth === 0) {
      found.push(text.slice(start, i + 1));
      start = -1;
    }
  }
  // What is left open is a document that was cut off; its reader says so.
  return start >= 0 ? [...found, text.slice(start)] : found;
}
