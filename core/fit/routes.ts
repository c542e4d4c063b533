import type { FitUplink } from "@ukaza/contract/fit";
import type { Settings } from "@ukaza/contract/settings";
import { feedLoad } from "../media/load";
import { mathisCapBps } from "../survey/path";

/** Which uplinks carry the main and the backup feed. */
export interface Route {
  main: FitUplink;
  backup: FitUplink | null;
}

/** Load of settings on an uplink, bit/s at the IP layer; Infinity where the path itself caps TCP below it. */
function loadOn(uplink: FitUplink, s: Settings): number {
  const { loadBps } = feedLoad(s, uplink.lossRatio ?? 0);
  if (s.protocol === "srt" || uplink.rttMs === undefined || uplink.lossRatio === undefined) return loadBps;
  const cap = mathisCapBps(uplink.rttMs, uplink.lossRatio);
  return cap !== null && cap < loadBps ? Number.POSITIVE_INFINITY : loadBps;
}

/** The uplink limit that settings break on a route, or null if they fit. */
export function brokenLimit(route: Route, s: Settings): "uplink" | "backup-uplink" | null {
  const onMain = loadOn(route.main, s);
  const shared = route.backup?.id === route.main.id ? onMain : 0;
  if (onMain + shared > route.main.usableBps) return "uplink";
  if (route.backup && !shared && loadOn(route.backup, s) > route.backup.usableBps) return "backup-uplink";
  return null;
}

/** Every way to send main and backup: the backup goes another way wherever there is one. */
export function routesOf(uplinks: readonly FitUplink[], backup: boolean): Route[] {
  if (!backup) return uplinks.map((main) => ({ main, backup: null }));
  const [only] = uplinks;
  if (uplinks.length === 1 && only) return [{ main: only, backup: only }];
  return uplinks.flatMap((main) => uplinks.filter((other) => other.id !== main.id).map((other) => ({ main, backup: other })));
}
