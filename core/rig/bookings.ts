import type { DoubleBooking, KitUse } from "@ukaza/contract/kit";

/** Rules of thumb: an encoder is on its way and being rigged before the show, and being packed up after it. */
export const bookingRules = { beforeMinutes: 120, afterMinutes: 60 } as const;

const MINUTE_MS = 60_000;

/** The hours for which a show holds its encoders. */
export function claimedSpan(show: { start: string; end: string }): { from: string; until: string } {
  const at = (instant: string, minutes: number) => new Date(Date.parse(instant) + minutes * MINUTE_MS).toISOString();
  return { from: at(show.start, -bookingRules.beforeMinutes), until: at(show.end, bookingRules.afterMinutes) };
}

interface Span {
  from: string;
  until: string;
}

/** The hours that two spans share; null: none. Where one ends as the other begins nothing is shared. */
export function sharedSpan(a: Span, b: Span): Span | null {
  const from = Math.max(Date.parse(a.from), Date.parse(b.from));
  const until = Math.min(Date.parse(a.until), Date.parse(b.until));
  return from < until ? { from: new Date(from).toISOString(), until: new Date(until).toISOString() } : null;
}

/** Every pair of events that claim the same encoder for the same hours, in the order in which trouble comes. */
export function doubleBookings(uses: readonly KitUse[]): DoubleBooking[] {
  const found = uses.flatMap((a, i) =>
    uses.slice(i + 1).flatMap((b): DoubleBooking[] => {
      if (a.encoderId !== b.encoderId || a.eventId === b.eventId) return [];
      const shared = sharedSpan(a, b);
      return shared ? [{ encoderId: a.encoderId, a, b, ...shared }] : [];
    }),
  );
  return found.sort((a, b) => Date.parse(a.from) - Date.parse(b.from));
}

/** What stands in the way of having an encoder for a span: claims of events in it, and one that never brought it back. */
export function claimsIn(uses: readonly KitUse[], encoderId: string, span: Span, exceptEventId: string | null = null): KitUse[] {
  return uses.filter(
    (use) =>
      use.encoderId === encoderId &&
      use.eventId !== exceptEventId &&
      (sharedSpan(use, span) !== null || (use.out !== null && Date.parse(use.until) <= Date.parse(span.from))),
  );
}
