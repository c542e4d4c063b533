import type { EventNow } from "@ukaza/contract/event";
import type { EventDemands } from "@ukaza/contract/eventPlan";
import type { FitNow } from "@ukaza/contract/fitChoice";
import { demandsOf } from "@ukaza/core/fit/asked";
import { useRef, useState } from "react";
import { useSWRConfig } from "swr";
import { type ApiError, read, send } from "../../data/api";
import { useEvent, useOrder } from "../../data/hooks";
import { useRefresh } from "../../data/useRefresh";

/**
 * What an event asks of the fit. A change shows at once. Changes are sent one after the other, so that an older one never
 * overtakes a newer; of those that wait only the newest is sent. A refused one gives way to what the server holds.
 */
export function useDemands(eventId: string): { demands: EventDemands | null; error: ApiError | null; ask: (next: EventDemands) => void } {
  const { mutate } = useSWRConfig();
  const refresh = useRefresh(eventId);
  const event = useEvent(eventId).data?.event;
  const { error, run } = useOrder();
  const [sent, setSent] = useState<EventDemands | null>(null);
  const waiting = useRef<EventDemands | null>(null);
  const sending = useRef(false);
  const sendAll = async () => {
    sending.current = true;
    const path = `/events/${eventId}`;
    try {
      for (let own = waiting.current; own; own = waiting.current) {
        waiting.current = null;
        await run(() => send<FitNow>("PUT", `${path}/demands`, own));
        // Written, not only asked for: an answer still on its way from before the change counts no more.
        if (!waiting.current) await mutate(path, read<EventNow>(path), { revalidate: false }).catch(() => undefined);
      }
    } finally {
      // Whatever went wrong, the next change is sent.
      sending.current = false;
      setSent(null);
    }
    await refresh();
  };
  const ask = (next: EventDemands) => {
    setSent(next);
    waiting.current = next;
    if (!sending.current) void sendAll();
  };
  return { demands: sent ?? (event ? demandsOf(event) : null), error, ask };
}
