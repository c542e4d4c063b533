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
  standinAddress: (name: "line" | "oriel-public" | "desk-encoder") => string;
  stop: () => Promise<void>;
}

interface Child {
  process: ChildProcess;
  port: number;
}

/** Starts one of our own programs and waits for its word that it listens. */
function start(file: string, args: string[]): Promise<Child> {
  const child = fork(join(root, file), args, { cwd: root, execArgv: ["--import", "tsx"], stdio: ["ignore", "inherit", "inherit", "ipc"] });
  return new Promise((resolve, reject) => {
    child.once("message", (message) => resolve({ process: child, port: (message as { port: number }).port }));
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
  const ports = options.port === 0 ? [0, 0, 0, 0] : [1, 2, 3, 4].map((i) => options.port + i);
  const url = (child: Child) => `http://127.0.0.1:${child.port}`;
  // The reflector of the line test stands behind the line, as it would stand out on the internet.
  const reflector = await start("server/reflector/main.ts", ["--port", String(ports[3])]);
  const line = await start("standins/line/main.ts", [
    "--port",
    String(ports[0]),
    "--file",
    join(demo, "standins/line.json"),
    "--reflector",
    String(reflector.port),
  ]);
  const [platform, encoder] = await Promise.all([
    start("standins/platform/main.ts", [
      "--port",
      String(ports[1]),
      "--sheet",
      join(demo, "platforms/oriel-public.json"),
      "--waits",
      String(options.waits ?? 1),
      ...standinData,
    ]),
    start("standins/encoder/main.ts", [
      "--port",
      String(ports[2]),
      "--kit",
      join(demo, "kit/desk-encoder.json"),
      "--line",
      url(line),
      ...standinData,
    ]),
  ]);
  const addresses = { line: url(line), "oriel-public": url(platform), "desk-encoder": url(encoder) };
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
  const { port } = server;
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
    standinAddress: (name) => addresses[name],
    stop: async () => {
      stopping = true;
      await end(server.process);
      await Promise.all([end(encoder.process), end(platform.process), end(line.process), end(reflector.process)]);
    },
  };
}
