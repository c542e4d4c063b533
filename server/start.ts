import type { Server } from "node:http";
import type { AddressInfo } from "node:net";
import { join } from "node:path";
import pino, { type LoggerOptions } from "pino";
import { Accounts } from "./accounts/accounts";
import type { Context } from "./context";
import { createApp } from "./createApp";
import { openDb } from "./db/open";
import { Devices } from "./devices/devices";
import { type Addresses, standinDrivers } from "./drivers/standins";
import { Hub } from "./http/hub";
import { LineTests } from "./lineTest/lineTests";
import { runInChild } from "./lineTest/runInChild";
import { LiveEvents } from "./live/liveEvents";
import { openSecrets } from "./secrets";
import { MeasurementBook } from "./survey/book";
import { Surveyor } from "./survey/store";

export interface ServerOptions {
  /** null: everything in memory. */
  dataFolder: string | null;
  webFolder: string | null;
  port: number;
  host: string;
  standins: Addresses;
  logLevel: string;
}

export interface RunningServer {
  port: number;
  close: () => Promise<void>;
}

/** Names under which a secret could come by; none of them is ever written to the log. */
const secretNames = ["key", "keySealed", "password", "passphrase", "streamId", "access_token", "token", "device_code", "authorization"];
const secretPaths = secretNames.flatMap((name) => [name, `*.${name}`, `*.*.${name}`]);

export function logOptions(level: string): LoggerOptions {
  return { level, redact: { paths: secretPaths, censor: "[hidden]" }, base: null };
}

/** Opens the database, picks up what was running, and listens. */
export async function startServer(options: ServerOptions): Promise<RunningServer> {
  const log = pino(logOptions(options.logLevel));
  const db = await openDb(options.dataFolder === null ? null : join(options.dataFolder, "database"));
  const secrets = openSecrets(options.dataFolder);
  const now = () => new Date();
  const accounts = new Accounts(db, secrets, log, now);
  const devices = new Devices(db, now);
  const drivers = standinDrivers(options.standins, (reach) => accounts.tokenFor(reach));
  const hub = new Hub();
  const live = new LiveEvents(db, drivers, hub, log);
  const book = new MeasurementBook(db);
  const surveyor = new Surveyor(db, book, now);
  const lineTests = new LineTests({ db, book, drivers, hub, log, now, run: runInChild });
  const context: Context = { db, drivers, hub, secrets, live, surveyor, lineTests, accounts, devices, log, now };
  const app = createApp(context, options.webFolder);
  await accounts.load();
  await live.start();
  await lineTests.start();
  const server = await new Promise<Server>((resolve, reject) => {
    const listening = app.listen(options.port, options.host, () => resolve(listening));
    listening.once("error", reject);
  });
  const { port } = server.address() as AddressInfo;
  log.info({ port }, "ready");
  return {
    port,
    close: async () => {
      accounts.stop();
      await lineTests.stop();
      await live.stop();
      server.closeAllConnections();
      await new Promise<void>((resolve) => server.close(() => resolve()));
      await db.close();
    },
  };
}
