import { randomBytes } from "node:crypto";
import { existsSync, mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { seal, unseal } from "@ukaza/core/rig/seal";

/** Seals and opens stream keys. The key file lies beside the database, readable by the owner alone. */
export interface Secrets {
  seal: (text: string) => string;
  open: (sealed: string) => string;
}

export function openSecrets(folder: string | null): Secrets {
  const key = folder === null ? randomBytes(32) : keyIn(folder);
  return { seal: (text) => seal(text, key, randomBytes(12)), open: (sealed) => unseal(sealed, key) };
}

function keyIn(folder: string): Buffer {
  mkdirSync(folder, { recursive: true });
  const file = join(folder, "stream-keys.key");
  if (!existsSync(file)) writeFileSync(file, randomBytes(32), { mode: 0o600 });
  return readFileSync(file);
}
