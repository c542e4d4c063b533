import { createCipheriv, createDecipheriv } from "node:crypto";

/** AES-256-GCM (NIST SP 800-38D): 12 bytes of nonce, 16 of tag, both kept before the text. */
const NONCE_BYTES = 12;
const TAG_BYTES = 16;

/** Encrypts text. `key`: 32 bytes. `nonce`: 12 bytes, never used twice with one key. Gives base64. */
export function seal(text: string, key: Buffer, nonce: Buffer): string {
  const cipher = createCipheriv("aes-256-gcm", key, nonce);
  const body = Buffer.concat([cipher.update(text, "utf8"), cipher.final()]);
  return Buffer.concat([nonce, cipher.getAuthTag(), body]).toString("base64");
}

/** Decrypts what `seal` made. Throws if the key is another or the text was changed. */
export function unseal(sealed: string, key: Buffer): string {
  const bytes = Buffer.from(sealed, "base64");
  const decipher = createDecipheriv("aes-256-gcm", key, bytes.subarray(0, NONCE_BYTES));
  decipher.setAuthTag(bytes.subarray(NONCE_BYTES, NONCE_BYTES + TAG_BYTES));
  return Buffer.concat([decipher.update(bytes.subarray(NONCE_BYTES + TAG_BYTES)), decipher.final()]).toString("utf8");
}
