/** A file's name and text as a person picked it; null if they picked none. */
export interface PickedFile {
  name: string;
  text: string;
}

/** Only the web target picks files so far. */
export async function pickTextFile(): Promise<PickedFile | null> {
  return null;
}
