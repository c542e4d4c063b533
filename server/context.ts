import type { Logger } from "pino";
import type { Db } from "./db/open";
import type { Drivers } from "./drivers/drivers";
import type { Hub } from "./http/hub";
import type { LiveEvents } from "./live/liveEvents";
import type { Secrets } from "./secrets";

/** What every router is given. */
export interface Context {
  db: Db;
  drivers: Drivers;
  hub: Hub;
  secrets: Secrets;
  live: LiveEvents;
  log: Logger;
  now: () => Date;
}
