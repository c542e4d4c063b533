import { randomBytes } from "node:crypto";
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { seal, unseal } from "@ukaza/core/rig/seal";

/** A device's own memory: one sealed file, so that it comes back as it was after a power cut. */
export interface Store<T> {
  value: T;
  save: () => void;
}

/** Opens `name`.sealed in `folder`, or starts with `fresh`. Its key lies beside it, readable by the owner alone. */
export function openStore<T>(folder: string | null, name: string, fresh: T): Store<T> {
  if (folder === null) return { value: fresh, save: () => undefined };
  mkdirSync(folder, { recursive: true });
  const keyFile = join(folder, `${name}.key`);
  if (!existsSync(keyFile)) writeFileSync(keyFile, randomBytes(32), { mode: 0o600 });
  const key = readFileSync(keyFile);
  const file = join(folder, `${name}.sealed`);
  // What a memory of an earlier version does not hold is as in a fresh one.
  const value = existsSync(file) ? ({ ...fresh, ...JSON.parse(unseal(readFileSync(file, "utf8"), key)) } as T) : fresh;
  return {
    value,
    save: () => {
      writeFileSync(`${file}.new`, seal(JSON.stringify(value), key, randomBytes(12)), { mode: 0o600 });
      renameSync(`${file}.new`, file);
    },
  };
}
