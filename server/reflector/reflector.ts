import { createSocket, type Socket as UdpSocket } from "node:dgram";
import { createServer, type Socket } from "node:net";
import { reflectorHello } from "@ukaza/contract/lineTest";
import { readProbe, writeProbe } from "@ukaza/core/survey/probe";

export interface ReflectorOptions {
  host: string;
  /** The same number for TCP and UDP; 0 picks a free one. */
  port: number;
  /** Connections that are served at the same time; the next is turned away. */
  mostConnections?: number;
  /** A connection is closed after this time. */
  mostSeconds?: number;
}

export interface Reflector {
  port: number;
  close: () => Promise<void>;
}

const REPORT_EVERY_MS = 100;
const MOST_HELLO_BYTES = 200;
/** Sessions of probes whose count is kept; the oldest goes first. */
const MOST_SESSIONS = 1_000;

/**
 * The far end of the built-in test: counts what arrives over TCP and says so ten times a second by its own clock, and
 * answers probes over UDP with when and how many came. It never sends more than it was sent.
 */
export async function startReflector(options: ReflectorOptions): Promise<Reflector> {
  const { host, mostConnections = 32, mostSeconds = 90 } = options;
  const open = new Set<Socket>();
  const tcp = createServer((socket) => {
    open.add(socket);
    socket.once("close", () => open.delete(socket));
    count(socket, mostSeconds * 1000);
  });
  tcp.maxConnections = mostConnections;
  await new Promise<void>((resolve, reject) => tcp.once("error", reject).listen(options.port, host, resolve));
  const address = tcp.address();
  const port = typeof address === "object" && address ? address.port : options.port;
  const udp = createSocket(host.includes(":") ? "udp6" : "udp4");
  answerProbes(udp);
  try {
    await new Promise<void>((resolve, reject) => udp.once("error", reject).bind(port, host, () => resolve()));
  } catch (error) {
    tcp.close();
    throw error;
  }
  return {
    port,
    close: async () => {
      for (const socket of open) socket.destroy();
      await Promise.all([
        new Promise<void>((resolve) => tcp.close(() => resolve())),
        new Promise<void>((resolve) => udp.close(() => resolve())),
      ]);
    },
  };
}

/** One connection: a line of hello, then bytes that are counted and thrown away. */
function count(socket: Socket, mostMs: number): void {
  let bytes = 0;
  let hello = "";
  let greeted = false;
  const report = () => socket.writable && socket.write(`${JSON.stringify({ ms: performance.now(), bytes })}\n`);
  let reports: NodeJS.Timeout | undefined;
  const deadline = setTimeout(() => socket.destroy(), mostMs);
  socket.on("data", (chunk: Buffer) => {
    if (greeted) {
      bytes += chunk.length;
      return;
    }
    const end = chunk.indexOf(10);
    hello += chunk.subarray(0, end < 0 ? chunk.length : end).toString("latin1");
    if (end < 0) {
      if (hello.length > MOST_HELLO_BYTES) socket.destroy();
      return;
    }
    if (!isHello(hello)) {
      socket.end('{"error":"this is the reflector of the built-in line test; it wants its own hello"}\n');
      return;
    }
    greeted = true;
    bytes = chunk.length - end - 1;
    report();
    reports = setInterval(report, REPORT_EVERY_MS);
  });
  // The other side breaks off when its time is up; that is how a test ends.
  socket.on("error", () => undefined);
  socket.on("close", () => {
    clearInterval(reports);
    clearTimeout(deadline);
  });
}

function isHello(line: string): boolean {
  try {
    return reflectorHello.safeParse(JSON.parse(line)).success;
  } catch {
    return false;
  }
}

function answerProbes(udp: UdpSocket): void {
  const come = new Map<string, number>();
  udp.on("message", (bytes, from) => {
    const receivedMs = performance.now();
    const probe = readProbe(bytes);
    if (!probe) return;
    const soFar = (come.get(probe.session) ?? 0) + 1;
    if (!come.has(probe.session) && come.size >= MOST_SESSIONS) come.delete(come.keys().next().value ?? "");
    come.set(probe.session, soFar);
    udp.send(writeProbe({ ...probe, receivedMs, come: soFar }, bytes.length), from.port, from.address);
  });
  udp.on("error", () => undefined);
}
