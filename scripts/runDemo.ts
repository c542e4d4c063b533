import { existsSync, mkdirSync, rmSync } from "node:fs";
import { join, resolve } from "node:path";
import { parseArgs } from "node:util";
import { loadDemo } from "../demo/load";
import { launch, PORTS_ABOVE } from "./launch";

/** Starts everything with the demo's data and prints the address. */
async function main(): Promise<void> {
  const { values } = parseArgs({
    options: {
      port: { type: "string", default: "4310" },
      data: { type: "string", default: join(__dirname, "..", ".data", "demo") },
      fresh: { type: "boolean", default: false },
    },
  });
  const port = Number(values.port);
  if (!Number.isInteger(port) || port < 1024 || port > 65_000)
    throw new Error(`--port takes a number from 1024 to 65000; ${PORTS_ABOVE} ports above it are used as well`);
  const dataFolder = resolve(values.data);
  if (values.fresh) rmSync(dataFolder, { recursive: true, force: true });
  const isNew = !existsSync(join(dataFolder, "loaded"));
  if (isNew) rmSync(dataFolder, { recursive: true, force: true });
  mkdirSync(dataFolder, { recursive: true });
  const running = await launch({
    port,
    dataFolder,
    webFolder: join(__dirname, "..", "app", "dist"),
    onRestart: (why) => console.log(`The server ended (${why}); starting it again.`),
  });
  if (isNew) {
    await loadDemo(running.address, new Date());
    mkdirSync(join(dataFolder, "loaded"));
  }
  console.log(`Ukaza is ready: ${running.address}`);
  const stop = async () => {
    await running.stop();
    process.exit(0);
  };
  process.once("SIGINT", stop);
  process.once("SIGTERM", stop);
}

main().catch((error: Error) => {
  console.error(error.message);
  process.exit(1);
});
