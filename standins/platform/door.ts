import { Refusal } from "@ukaza/contract/problem";
import type { Role } from "@ukaza/contract/rig";
import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import type { Settings } from "@ukaza/contract/settings";
import type { Credentials } from "@ukaza/contract/standins";
import { frozenSettings } from "@ukaza/core/rules/frozen";

export const noCredentials: Credentials = { login: null, passphrase: null, streamId: null, userAgent: null };

/** The key within a stream ID that is written as the pattern asks; null: it is not so written. */
export function keyInStreamId(pattern: string, streamId: string): string | null {
  const [before = "", after = ""] = pattern.split("{key}");
  const fits = streamId.length > before.length + after.length && streamId.startsWith(before) && streamId.endsWith(after);
  return fits ? streamId.slice(before.length, streamId.length - after.length) : null;
}

/** Whether settings are alike in what a frozen field of a rule sheet stands for. */
export const sameField = (field: keyof typeof frozenSettings, a: Settings, b: Settings) =>
  frozenSettings[field].every((name) => a[name] === b[name]);

/** The ingest that listens at a path; null: none does. A region stands before the path. */
export function roleAt(sheet: RuleSheet, path: string): Role | null {
  const region = sheet.regions.find((r) => path.startsWith(`${r.id}-`));
  const place = region ? path.slice(region.id.length + 1) : path;
  return place === "live" ? "main" : place === "live-backup" ? "backup" : null;
}

/** The key of the picture that a numbered rendition belongs to. */
export function withoutRendition(key: string, suffix: string | null, most: number): string {
  if (suffix === null) return key;
  for (let n = 1; n <= most; n++) {
    const end = suffix.replace("{n}", String(n));
    if (key.endsWith(end)) return key.slice(0, -end.length);
  }
  return key;
}

/** Refuses a sender that does not say what it was handed out, or does not call itself as it must. */
export function mustSay(
  { login, passphrase }: { login: Credentials["login"]; passphrase: string | null },
  userAgent: string | null,
  said: Credentials,
): void {
  if (login && (said.login?.user !== login.user || said.login.password !== login.password))
    throw new Refusal(401, "login-wrong", "user name or password is missing or wrong", "Give the encoder both, as they were handed out.");
  if (passphrase && said.passphrase !== passphrase)
    throw new Refusal(
      401,
      "passphrase-wrong",
      "the passphrase is missing or wrong",
      "Give the encoder the passphrase that was handed out.",
    );
  if (userAgent !== null && said.userAgent !== userAgent)
    throw new Refusal(
      403,
      "sender-unknown",
      "only senders that call themselves as asked are let in",
      `Let the encoder call itself "${userAgent}".`,
    );
}
