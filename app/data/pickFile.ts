/** A file as a person picked it, read when it is wanted. */
export interface PickedFile {
  name: string;
  bytes: number;
  text: () => Promise<string>;
}

/** Only the web target picks files so far. */
export async function pickTextFile(): Promise<PickedFile | null> {
  return null;
}
