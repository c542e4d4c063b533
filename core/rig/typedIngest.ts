import type { Protocol } from "@ukaza/contract/settings";

/** What is wrong with an address and key that a person copied from a platform's page; null: nothing that shows. */
export interface IngestFault {
  at: "address" | "key";
  code: "no-scheme" | "key-in-address" | "other-protocol" | "space" | "address-in-key" | "empty" | "key-at-end";
}

/** The ways in which copying goes wrong and that can be seen from what was typed. */
export function typedIngestFault(address: string, key: string, protocol: Protocol): IngestFault | null {
  const [a, k] = [address.trim(), key.trim()];
  if (a === "") return { at: "address", code: "empty" };
  if (/\s/.test(a)) return { at: "address", code: "space" };
  if (!a.includes("://")) return { at: "address", code: a.includes(".") || a.includes("/") ? "no-scheme" : "key-in-address" };
  if (!a.toLowerCase().startsWith(`${protocol}://`)) return { at: "address", code: "other-protocol" };
  if (k === "") return { at: "key", code: "empty" };
  if (k.includes("://")) return { at: "key", code: "address-in-key" };
  if (/\s/.test(k)) return { at: "key", code: "space" };
  // The page showed both in one: the key would stand there twice.
  if (a.endsWith(`/${k}`)) return { at: "address", code: "key-at-end" };
  return null;
}
