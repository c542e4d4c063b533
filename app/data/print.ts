/** Only the web target prints so far. */
export function printPage(): void {}
