import type { Logger } from "pino";
import type { Accounts } from "./accounts/accounts";
import type { Db } from "./db/open";
import type { Devices } from "./devices/devices";
import type { Drivers } from "./drivers/drivers";
import type { Hub } from "./http/hub";
import type { LineTests } from "./lineTest/lineTests";
import type { LiveEvents } from "./live/liveEvents";
import type { Secrets } from "./secrets";
import type { Surveyor } from "./survey/store";

/** What every router is given. */
export interface Context {
  db: Db;
  drivers: Drivers;
  hub: Hub;
  secrets: Secrets;
  live: LiveEvents;
  surveyor: Surveyor;
  lineTests: LineTests;
  accounts: Accounts;
  devices: Devices;
  log: Logger;
  now: () => Date;
}
