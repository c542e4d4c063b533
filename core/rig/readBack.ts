import type { FeedOrder, HeldField } from "@ukaza/contract/rig";
import type { Settings } from "@ukaza/contract/settings";
import type { EncoderHeld } from "@ukaza/contract/standins";
import { maskKey } from "./secret";

/** What the encoder was told. */
export interface Wanted {
  settings: Settings;
  feeds: FeedOrder[];
}

/**
 * Compares what the encoder really holds with what it was told, field by field.
 * Keys are compared whole but shown masked; a key that differs only at its ends is named as such by the dots' tail.
 */
export function compareHeld(wanted: Wanted, held: EncoderHeld): HeldField[] {
  const rows: HeldField[] = [];
  const row = (feed: HeldField["feed"], field: string, want: unknown, has: unknown) =>
    rows.push({
      feed,
      field,
      wanted: String(want),
      held: has === undefined || has === null ? "nothing" : String(has),
      equal: want === has,
    });
  for (const field of Object.keys(wanted.settings) as (keyof Settings)[]) {
    row("main", field, wanted.settings[field], held.engine.settings?.[field]);
  }
  for (const order of wanted.feeds) {
    const has = held.feeds[order.feedId];
    row(order.role, "address", order.address, has?.address);
    row(order.role, "uplink", order.uplinkId, has?.uplinkId);
    const hidden = (field: string, want: string | null, held: string | null | undefined) => {
      if (want === null && !held) return;
      const masked = (text: string | null | undefined) => (text ? maskKey(text) : "nothing");
      rows.push({ feed: order.role, field, wanted: masked(want), held: masked(held), equal: want === (held ?? null) });
    };
    hidden("key", order.key, has?.key);
    const [want, said] = [order.credentials, has?.credentials];
    if (want.login || said?.login) row(order.role, "user name", want.login?.user ?? "nothing", said?.login?.user);
    hidden("password", want.login?.password ?? null, said?.login?.password);
    hidden("passphrase", want.passphrase, said?.passphrase);
    hidden("stream ID", want.streamId, said?.streamId);
    if (want.userAgent || said?.userAgent) row(order.role, "name of the sender", want.userAgent ?? "nothing", said?.userAgent);
  }
  const known = new Set(wanted.feeds.map((f) => f.feedId));
  for (const stray of Object.keys(held.feeds).filter((feedId) => !known.has(feedId))) {
    rows.push({ feed: "main", field: "unasked feed", wanted: "nothing", held: stray, equal: false });
  }
  return rows;
}

/** What a platform sees of a feed against the settings that were typed by hand; the one that sends by hand cannot be asked. */
export function compareReceived(settings: Settings, role: HeldField["feed"], received: Settings): HeldField[] {
  return (Object.keys(settings) as (keyof Settings)[]).map((field) => ({
    feed: role,
    field,
    wanted: String(settings[field]),
    held: String(received[field]),
    equal: settings[field] === received[field],
  }));
}
