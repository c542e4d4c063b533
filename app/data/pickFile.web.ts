import type { PickedFile } from "./pickFile";

/** Opens the system's file picker and reads the file as text. */
export function pickTextFile(): Promise<PickedFile | null> {
  return new Promise((resolve) => {
    const input = document.createElement("input");
    input.type = "file";
    input.accept = ".csv,.json,.txt,text/csv,application/json";
    input.style.display = "none";
    const done = (file: PickedFile | null) => {
      input.remove();
      resolve(file);
    };
    input.onchange = async () => {
      const file = input.files?.[0];
      done(file ? { name: file.name, text: await file.text() } : null);
    };
    input.oncancel = () => done(null);
    document.body.append(input);
    input.click();
  });
}
