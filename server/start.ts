import type { Server } from "node:http";
import type { AddressInfo } from "node:net";
import { join } from "node:path";
import pino, { type LoggerOptions } from "pino";
import type { Context } from "./context";
import { createApp } from "./createApp";
import { openDb } from "./db/open";
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
const secretPaths = ["key", "*.key", "*.*.key", "keySealed", "*.keySealed", "password", "*.password", "passphrase", "*.passphrase"];

export function logOptions(level: string): LoggerOptions {
  return { level, redact: { paths: secretPaths, censor: "[hidden]" }, base: null };
}

/** Opens the database, picks up what was running, and listens. */
export async function startServer(options: ServerOptions): Promise<RunningServer> {
  const log = pino(logOptions(options.logLevel));
  const db = await openDb(options.dataFolder === null ? null : join(options.dataFolder, "database"));
  const secrets = openSecrets(options.dataFolder);
  const drivers = standinDrivers(options.standins);
  const hub = new Hub();
  const live = new LiveEvents(db, drivers, hub, log);
  const now = () => new Date();
  const book = new MeasurementBook(db);
  const surveyor = new Surveyor(db, book, now);
  const lineTests = new LineTests({ db, book, drivers, hub, log, now, run: runInChild });
  const context: Context = { db, drivers, hub, secrets, live, surveyor, lineTests, log, now };
  const app = createApp(context, options.webFolder);
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
      await lineTests.stop();
      await live.stop();
      server.closeAllConnections();
      await new Promise<void>((resolve) => server.close(() => resolve()));
      await db.close();
    },
  };
}
