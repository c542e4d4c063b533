import type { AirNow, LogLine } from "@ukaza/contract/air";
import type { AccountNow } from "@ukaza/contract/deviceCode";
import type { Encoder } from "@ukaza/contract/encoder";
import type { EventNow } from "@ukaza/contract/event";
import type { FitNow, SettingsSheet } from "@ukaza/contract/fitChoice";
import type { KitItem } from "@ukaza/contract/kit";
import type { ListedSheet, NewerSheet, SheetVersion } from "@ukaza/contract/library";
import type { LineTest } from "@ukaza/contract/lineTest";
import type { RunSheet } from "@ukaza/contract/lineup";
import type { RigNow } from "@ukaza/contract/rig";
import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import type { LineUplink } from "@ukaza/contract/standins";
import type { MeasurementPage, Survey } from "@ukaza/contract/survey";
import type { Venue, VenueListed } from "@ukaza/contract/venue";
import type { Report } from "@ukaza/contract/wrap";
import { useState } from "react";
import useSWR from "swr";
import { ApiError, read } from "./api";

const useRead = <T>(path: string | null) => useSWR<T, ApiError>(path, read<T>, { keepPreviousData: true });

export const useEvents = () => useRead<EventNow[]>("/events");
export const useEvent = (id: string) => useRead<EventNow>(`/events/${id}`);
export const useVenues = () => useRead<VenueListed[]>("/venues");
export const usePlatforms = () => useRead<ListedSheet[]>("/platforms");
export const usePlatform = (id: string | null) => useRead<ListedSheet>(id === null ? null : `/platforms/${id}`);
export const useVersions = (id: string) => useRead<SheetVersion[]>(`/platforms/${id}/versions`);
export const useSheetVersion = (id: string, version: string | null) =>
  useRead<RuleSheet>(version === null ? null : `/platforms/${id}/versions/${version}`);
const WAITING_MS = 1_000;
/** Whether a platform has let this server in; while a code waits it is asked for again and again. */
export const useAccount = (platformId: string) =>
  useSWR<AccountNow, ApiError>(`/platforms/${platformId}/account`, read<AccountNow>, {
    refreshInterval: (account) => (account?.state === "waiting" ? WAITING_MS : 0),
  });
export const useNewerSheets = (eventId: string) => useRead<NewerSheet[]>(`/events/${eventId}/sheets`);
export const useKit = () => useRead<KitItem[]>("/kit");
export const useEncoder = (id: string | null) => useRead<Encoder>(id === null ? null : `/encoders/${id}`);
/** Whether the devices are stand-ins: what is measured through them says so. */
export const useHealth = () => useRead<{ standins: boolean }>("/health");
export const useVenue = (id: string) => useRead<Venue>(`/venues/${id}`);
/** `path`: /events/x/survey or /venues/x/survey, with the hours asked about. */
export const useSurvey = (path: string) => useRead<Survey>(path);
export const useMeasurementPage = (path: string) => useRead<MeasurementPage>(path);

const moving: readonly LineTest["state"][] = ["waiting", "running"];
const MOVING_MS = 700;
const RESTING_MS = 20_000;

/** Built-in tests of an uplink. Inside an event the stream brings what moves; elsewhere it is asked for. */
export const useLineTests = (uplinkId: string) =>
  useSWR<LineTest[], ApiError>(`/uplinks/${uplinkId}/tests`, read<LineTest[]>, {
    refreshInterval: (tests) => (tests?.some((t) => moving.includes(t.state)) ? MOVING_MS : RESTING_MS),
  });
export const useFit = (id: string) => useRead<FitNow>(`/events/${id}/fit`);
export const useSettingsSheets = (id: string) => useRead<SettingsSheet[]>(`/events/${id}/settings-sheets`);
export const useRig = (id: string) => useRead<RigNow>(`/events/${id}/rig`);
export const useLineup = (id: string) => useRead<RunSheet>(`/events/${id}/lineup`);
export const useAir = (id: string) => useRead<AirNow>(`/events/${id}/air`);
export const useLog = (id: string) => useRead<LogLine[]>(`/events/${id}/log`);
export const useReport = (id: string) => useRead<Report>(`/events/${id}/report`);
export const useTrouble = (id: string, asked: boolean) => useRead<LineUplink[]>(asked ? `/events/${id}/air/trouble` : null);

/** An order under way: busy while it runs, and what was refused if it was. */
export function useOrder() {
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<ApiError | null>(null);
  /** Runs an order; gives its answer, or null when it was refused. */
  async function run<T>(order: () => Promise<T>): Promise<T | null> {
    setBusy(true);
    setError(null);
    try {
      return await order();
    } catch (failure) {
      if (!(failure instanceof ApiError)) throw failure;
      setError(failure);
      return null;
    } finally {
      setBusy(false);
    }
  }
  return { busy, error, run, forget: () => setError(null) };
}
