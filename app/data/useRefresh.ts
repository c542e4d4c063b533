import { useSWRConfig } from "swr";

/** Reads everything of an event again, after a change whose consequences reach several stages. */
export function useRefresh(eventId: string): () => Promise<unknown> {
  const { mutate } = useSWRConfig();
  const base = `/events/${eventId}`;
  return () => mutate((key) => typeof key === "string" && (key === base || key.startsWith(`${base}/`)));
}

/** Reads everything again that an uplink's measurements or facts reach: surveys, lists, fits, venues. */
export function useRefreshLines(): () => Promise<unknown> {
  const { mutate } = useSWRConfig();
  return () => mutate((key) => typeof key === "string" && /^\/(events|venues|uplinks)\b/.test(key));
}
