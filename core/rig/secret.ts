const SHOWN = 4;

/** A key as it may be seen: its last four characters behind dots; short keys are hidden whole. */
export function maskKey(key: string): string {
  return `${"•".repeat(8)}${key.length >= 3 * SHOWN ? key.slice(-SHOWN) : ""}`;
}
