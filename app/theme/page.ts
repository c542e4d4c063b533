/** On a phone's own app there is no page behind the screens. */
export function paintPage(_night: boolean): void {}
export const readChoice = (): string | null => null;
export const keepChoice = (_choice: string): void => {};
