import { type ChildProcess, fork } from "node:child_process";
import { EventEmitter, once } from "node:events";
import { join } from "node:path";

const root = join(__dirname, "..");

export interface LaunchOptions {
  port: number;
  dataFolder: string;
  webFolder: string | null;
  /** Factor on the stand-in platform's waits. */
  waits?: number;
  logLevel?: string;
  /** Said when the server ended by itself and is started again. */
  onRestart?: (why: string) => void;
}

export interface Launched {
  address: string;
  /** The server's present process. */
  serverPid: () => number;
  /** Resolves once a server that ended by itself is up again. */
  restarted: () => Promise<void>;
  /** Where a stand-in listens, by the name of the line, a platform or an encoder. */
  standinAddress: (name: string) => string;
  stop: () => Promise<void>;
}

interface Child {
  process: ChildProcess;
  /** Where it listens, by what listens there. */
  ports: Record<string, number>;
}

/** Ports above the server's that the demo uses, in this order. */
const platforms = ["oriel-public", "parishboard", "tallgate", "halyard-relay"];
const encoders = ["desk-encoder", "rack-two-way", "field-pack", "pocket-encoder", "six-way-receiver"];
export const PORTS_ABOVE = 2 + platforms.length + encoders.length;

/** Starts one of our own programs and waits for its word that it listens. */
function start(file: string, args: string[]): Promise<Child> {
  const child = fork(join(root, file), args, { cwd: root, execArgv: ["--import", "tsx"], stdio: ["ignore", "inherit", "inherit", "ipc"] });
  return new Promise((resolve, reject) => {
    child.once("message", (message) => resolve({ process: child, ports: (message as { ports: Record<string, number> }).ports }));
    child.once("exit", (code, signal) => reject(new Error(`${file} ended before it was ready (${signal ?? code})`)));
    child.once("error", reject);
  });
}

function end(child: ChildProcess): Promise<void> {
  if (child.exitCode !== null || child.signalCode !== null) return Promise.resolve();
  return new Promise((resolve) => {
    child.once("exit", () => resolve());
    child.kill("SIGTERM");
  });
}

/** Starts line, platform, encoder and server as processes of their own; a server that dies is started again. */
export async function launch(options: LaunchOptions): Promise<Launched> {
  const demo = join(root, "demo");
  const standinData = ["--data", join(options.dataFolder, "standins")];
  const portAbove = (n: number) => String(options.port === 0 ? 0 : options.port + n);
  const devices = (option: string, folder: string, names: readonly string[], first: number) =>
    names.flatMap((name, i) => [`--${option}`, `${join(demo, folder, `${name}.json`)}=${portAbove(first + i)}`]);
  // The reflector of the line test stands behind the line, as it would stand out on the internet.
  const reflector = await start("server/reflector/main.ts", ["--port", portAbove(2)]);
  const line = await start("standins/line/main.ts", [
    "--port",
    portAbove(1),
    "--file",
    join(demo, "standins/line.json"),
    "--reflector",
    String(reflector.ports.reflector),
  ]);
  const [platform, encoder] = await Promise.all([
    start("standins/platform/main.ts", [
      ...devices("sheet", "platforms", platforms, 3),
      "--waits",
      String(options.waits ?? 1),
      ...standinData,
    ]),
    start("standins/encoder/main.ts", [
      ...devices("kit", "kit", encoders, 3 + platforms.length),
      "--line",
      `http://127.0.0.1:${line.ports.line}`,
      ...standinData,
    ]),
  ]);
  const addresses: Record<string, string> = Object.fromEntries(
    Object.entries({ ...line.ports, ...platform.ports, ...encoder.ports }).map(([name, port]) => [name, `http://127.0.0.1:${port}`]),
  );
  const args = (port: number) => [
    "--port",
    String(port),
    "--data",
    options.dataFolder,
    "--log",
    options.logLevel ?? "warn",
    ...(options.webFolder ? ["--web", options.webFolder] : []),
    ...Object.entries(addresses).flatMap(([name, at]) => ["--standin", `${name}=${at}`]),
  ];
  let server = await start("server/main.ts", args(options.port));
  const port = server.ports.server ?? options.port;
  let stopping = false;
  const up = new EventEmitter();
  const watch = (child: ChildProcess) => {
    child.once("exit", async (code, signal) => {
      if (stopping) return;
      options.onRestart?.(String(signal ?? code));
      server = await start("server/main.ts", args(port));
      watch(server.process);
      up.emit("up");
    });
  };
  watch(server.process);
  return {
    address: `http://127.0.0.1:${port}`,
    serverPid: () => server.process.pid ?? 0,
    restarted: async () => void (await once(up, "up")),
    standinAddress: (name) => addresses[name] ?? "",
    stop: async () => {
      stopping = true;
      await end(server.process);
      await Promise.all([end(encoder.process), end(platform.process), end(line.process), end(reflector.process)]);
    },
  };
}
