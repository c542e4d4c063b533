import type { FitUplink } from "@ukaza/contract/fit";
import type { Settings } from "@ukaza/contract/settings";
import { loadOnPath } from "../survey/loadOnPath";

/** Which uplinks carry the main and the backup feed. */
export interface Route {
  main: FitUplink;
  backup: FitUplink | null;
}

/** The uplink limit that settings break on a route, or null if they fit. */
export function brokenLimit(route: Route, s: Settings): "uplink" | "backup-uplink" | null {
  const onMain = loadOnPath(route.main, s);
  const shared = route.backup?.id === route.main.id ? onMain : 0;
  if (onMain + shared > route.main.usableBps) return "uplink";
  if (route.backup && !shared && loadOnPath(route.backup, s) > route.backup.usableBps) return "backup-uplink";
  return null;
}

/** Every way to send main and backup: the backup goes another way wherever there is one. */
export function routesOf(uplinks: readonly FitUplink[], backup: boolean): Route[] {
  if (!backup) return uplinks.map((main) => ({ main, backup: null }));
  const [only] = uplinks;
  if (uplinks.length === 1 && only) return [{ main: only, backup: only }];
  return uplinks.flatMap((main) => uplinks.filter((other) => other.id !== main.id).map((other) => ({ main, backup: other })));
}
