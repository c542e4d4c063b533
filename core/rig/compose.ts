import type { Encoder } from "@ukaza/contract/encoder";
import type { RigField } from "@ukaza/contract/rig";
import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import type { Credentials } from "@ukaza/contract/standins";

type Way = RuleSheet["protocols"][number];

/** What a platform handed out for one ingest. */
export interface HandedOut {
  address: string;
  key: string;
  login: Credentials["login"];
  passphrase: string | null;
}

/** Ports that every encoder takes where none is written (RTMP 1.0 §1; RTMPS as HTTPS, RFC 9110 §4.2.2). SRT has none. */
const standardPort = { rtmp: 1935, rtmps: 443, srt: null } as const;

/** An address with its port written out wherever an encoder would take another; the rest as it was. */
export function withPort(address: string, way: Way): string {
  const match = /^([a-z]+:\/\/)(\[[^\]]*\]|[^/:?]+)(:\d+)?(.*)$/i.exec(address.trim());
  if (!match) return address.trim();
  const [, scheme = "", host = "", port, rest = ""] = match;
  const written = port ?? (way.defaultPort === standardPort[way.protocol] ? "" : `:${way.defaultPort}`);
  return `${scheme}${host}${written}${rest}`;
}

/** Address and key in one, with the sheet's separator once between them: neither missing nor doubled. */
export function joinKey(address: string, separator: string, key: string): string {
  if (separator === "") return `${address}${key}`;
  let bare = address;
  while (bare.endsWith(separator)) bare = bare.slice(0, -separator.length);
  let end = key.trim();
  while (end.startsWith(separator)) end = end.slice(separator.length);
  return `${bare}${separator}${end}`;
}

/** What an encoder must say beside address and key, by the sheet. */
export function credentialsFor(way: Way, out: HandedOut): Credentials {
  return {
    login: out.login,
    passphrase: out.passphrase,
    streamId: way.streamId === null ? null : way.streamId.replace("{key}", out.key),
    userAgent: way.userAgent,
  };
}

/** Everything that is typed into an encoder for one ingest, in the fields that it has. Secret ones are to be masked. */
export function fieldsToType(way: Way, out: HandedOut, setBy: Encoder["setBy"]): RigField[] {
  const address = withPort(out.address, way);
  const said = credentialsFor(way, out);
  const plain = (label: string, value: string): RigField => ({ label, value, secret: false });
  const secret = (label: string, value: string): RigField => ({ label, value, secret: true });
  const beside = [
    ...(said.login ? [plain("User name", said.login.user), secret("Password", said.login.password)] : []),
    ...(said.userAgent ? [plain("Name of the sender", said.userAgent)] : []),
  ];
  if (way.protocol === "srt") {
    const streamId = said.streamId ?? out.key;
    if (setBy === "one field") {
      const query = new URLSearchParams({
        mode: way.srtMode ?? "caller",
        streamid: streamId,
        ...(said.passphrase ? { passphrase: said.passphrase } : {}),
      });
      return [secret("Address", `${address}?${query}`), ...beside];
    }
    return [
      plain("Address", address),
      secret("Stream ID", streamId),
      ...(said.passphrase ? [secret("Passphrase", said.passphrase)] : []),
      ...beside,
    ];
  }
  if (setBy === "one field" && way.separator !== "")
    return [secret("Address with key", joinKey(address, way.separator, out.key)), ...beside];
  return [plain("Address", address), secret("Stream key", out.key.trim()), ...beside];
}
