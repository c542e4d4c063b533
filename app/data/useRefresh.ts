import { useSWRConfig } from "swr";

/** Reads everything of an event again, after a change whose consequences reach several stages. */
export function useRefresh(eventId: string): () => Promise<unknown> {
  const { mutate } = useSWRConfig();
  const base = `/events/${eventId}`;
  return () => mutate((key) => typeof key === "string" && (key === base || key.startsWith(`${base}/`)));
}
