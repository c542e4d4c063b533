import type { LogLine, Sample, StreamMessage } from "@ukaza/contract/air";
import type { LineTest } from "@ukaza/contract/lineTest";
import { createContext, type ReactNode, useContext, useEffect, useMemo, useState, useSyncExternalStore } from "react";
import { useSWRConfig } from "swr";
import { read } from "./api";
import { SampleStore } from "./samples";

interface Stream {
  store: SampleStore;
  connected: boolean;
}

const StreamContext = createContext<Stream>({ store: new SampleStore(), connected: false });

/** Whether the server's stream is heard. */
export const useConnected = () => useContext(StreamContext).connected;

/** The last minutes of samples by feed. */
export function useSamples(): Record<string, Sample[]> {
  const { store } = useContext(StreamContext);
  return useSyncExternalStore(store.subscribe, store.snapshot, store.snapshot);
}

/** Listens to one event: samples into the store, log lines into the log, changes into what is read again. Give it the event as its key. */
export function EventStream({ eventId, children }: { eventId: string; children: ReactNode }) {
  const { mutate } = useSWRConfig();
  const [connected, setConnected] = useState(false);
  const [store] = useState(() => new SampleStore());
  useEffect(() => {
    const base = `/events/${eventId}`;
    const refresh = (test: (key: string) => boolean) => void mutate((key) => typeof key === "string" && test(key));
    const source = new EventSource(`/api${base}/stream`);
    const onMessage = (event: MessageEvent<string>) => {
      const message = JSON.parse(event.data) as StreamMessage;
      if (message.type === "samples") store.add(message.samples);
      else if (message.type === "log")
        void mutate<LogLine[]>(
          `${base}/log`,
          (lines) => (lines ? [...lines, ...message.lines.filter((l) => !lines.some((k) => k.id === l.id))] : lines),
          { revalidate: false },
        );
      else if (message.type === "line-test")
        void mutate<LineTest[]>(
          `/uplinks/${message.test.uplinkId}/tests`,
          (tests) =>
            tests && [...tests.filter((t) => t.id !== message.test.id), message.test].sort((a, b) => a.dueAt.localeCompare(b.dueAt)),
          { revalidate: false },
        );
      else {
        const paths = message.what.map((part) => (part === "event" ? base : `${base}/${part === "wrap" ? "report" : part}`));
        const lines = message.what.includes("survey");
        refresh((key) => paths.includes(key.split("?")[0] ?? "") || (lines && key.startsWith("/uplinks/")));
      }
    };
    source.addEventListener("message", onMessage);
    // What was missed while the line was down is read again when it is back.
    source.onopen = () => {
      setConnected(true);
      refresh((key) => key.startsWith(base));
      read<Sample[]>(`${base}/air/samples?seconds=300`).then(
        (samples) => store.add(samples),
        () => undefined,
      );
    };
    source.onerror = () => setConnected(false);
    return () => source.close();
  }, [eventId, mutate, store]);
  const stream = useMemo(() => ({ store, connected }), [store, connected]);
  return <StreamContext.Provider value={stream}>{children}</StreamContext.Provider>;
}
