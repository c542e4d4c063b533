import type { PickedFile } from "./pickFile";

/** Opens the system's file picker. */
export function pickTextFile(): Promise<PickedFile | null> {
  return new Promise((resolve) => {
    const input = document.createElement("input");
    input.type = "file";
    input.accept = ".csv,.tsv,.json,.txt,text/csv,application/json";
    input.style.display = "none";
    const done = (file: PickedFile | null) => {
      input.remove();
      resolve(file);
    };
    input.onchange = () => {
      const file = input.files?.[0];
      done(file ? { name: file.name, bytes: file.size, text: () => file.text() } : null);
    };
    input.oncancel = () => done(null);
    document.body.append(input);
    input.click();
  });
}
