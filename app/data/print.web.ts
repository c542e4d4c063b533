/** Opens the browser's own print sheet. */
export function printPage(): void {
  window.print();
}
