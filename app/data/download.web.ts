/** Lets the browser save what a path of the interface gives as a file. */
export function download(path: string): void {
  const link = document.createElement("a");
  link.href = `/api${path}`;
  link.download = "";
  document.body.append(link);
  link.click();
  link.remove();
}
