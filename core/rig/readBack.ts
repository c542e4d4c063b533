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
    rows.push({
      feed: order.role,
      field: "key",
      wanted: maskKey(order.key),
      held: has ? maskKey(has.key) : "nothing",
      equal: has?.key === order.key,
    });
  }
  const known = new Set(wanted.feeds.map((f) => f.feedId));
  for (const stray of Object.keys(held.feeds).filter((feedId) => !known.has(feedId))) {
    rows.push({ feed: "main", field: "unasked feed", wanted: "nothing", held: stray, equal: false });
  }
  return rows;
}
