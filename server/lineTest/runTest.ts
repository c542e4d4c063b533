import { randomBytes } from "node:crypto";
import { createSocket } from "node:dgram";
import { connect, isIPv6, type Socket } from "node:net";
import { type LineTestJob, type LineTestMessage, type LineTestProgress, reflectorReport } from "@ukaza/contract/lineTest";
import { toIpBps } from "@ukaza/core/survey/ownRate";
import { afterSlowStart, type Echo, probeResult, type Report, readProbe, secondsOf, writeProbe } from "@ukaza/core/survey/probe";
import { testShape } from "@ukaza/core/survey/testPlan";

const REACH_MS = 5_000;
/** How long an answer may be under way after the last probe went out. */
const LAST_ECHO_MS = 1_500;
const CHUNK = Buffer.alloc(64 * 1024);

type Say = (progress: LineTestProgress) => void;
const wait = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms));

/** One whole test of a line against a reflector: a train of probes on the idle line, then an upload that fills it. */
export async function runTest(job: LineTestJob, say: Say): Promise<LineTestMessage> {
  const session = randomBytes(8).toString("hex");
  say({ phase: "reaching", share: 0, rateBps: null });
  const sockets: Socket[] = [];
  try {
    for (let i = 0; i < job.connections; i++) sockets.push(await reach(job));
    const echoes = await probeTrain(job, session, say);
    const { reports, sentBytes } = await upload(job, session, sockets, say);
    const seriesBps = afterSlowStart(secondsOf(reports));
    if (seriesBps.length === 0 || seriesBps.every((bps) => bps === 0))
      return { kind: "failed", reason: "nothing arrived at the reflector; the line is cut or its port is closed for data" };
    const probes = probeResult(job.probes, echoes);
    return {
      kind: "result",
      durationS: seriesBps.length,
      seriesBps,
      ...probes,
      sentBytes: sentBytes + job.probes * (testShape.probeBytes + 28),
    };
  } catch (error) {
    return { kind: "failed", reason: whyUnreached(error as NodeJS.ErrnoException, job) };
  } finally {
    for (const socket of sockets) socket.destroy();
  }
}

function whyUnreached(error: NodeJS.ErrnoException, { host, port, localAddress }: LineTestJob): string {
  const where = `${host}:${port}`;
  if (error.code === "ECONNREFUSED") return `nothing listens at ${where}; start the reflector there, or mend the port`;
  if (error.code === "ENOTFOUND" || error.code === "EAI_AGAIN")
    return `the name ${host} is not known; check its spelling and that the line is up`;
  if (error.code === "EADDRNOTAVAIL") return `this machine has no address ${localAddress}; write the one it has on this uplink`;
  if (error.code === "ETIMEDOUT")
    return `no answer from ${where} within ${REACH_MS / 1000} s; the line is down or a firewall is in the way`;
  return `${where} broke off (${error.code ?? error.message})`;
}

function reach({ host, port, localAddress }: LineTestJob): Promise<Socket> {
  return new Promise((resolve, reject) => {
    const socket = connect({ host, port, noDelay: true, ...(localAddress ? { localAddress } : {}) });
    const late = setTimeout(() => socket.destroy(Object.assign(new Error("late"), { code: "ETIMEDOUT" })), REACH_MS);
    socket.once("error", reject);
    socket.once("connect", () => {
      clearTimeout(late);
      socket.off("error", reject);
      // A line that breaks in the middle shows as seconds without bytes.
      socket.on("error", () => undefined);
      resolve(socket);
    });
    socket.once("close", () => clearTimeout(late));
  });
}

async function probeTrain(job: LineTestJob, session: string, say: Say): Promise<Echo[]> {
  const udp = createSocket(isIPv6(job.host) || job.localAddress?.includes(":") ? "udp6" : "udp4");
  const echoes: Echo[] = [];
  udp.on("error", () => undefined);
  udp.on("message", (bytes) => {
    const backMs = performance.now();
    const probe = readProbe(bytes);
    if (probe?.session === session) echoes.push({ ...probe, backMs });
  });
  if (job.localAddress)
    await new Promise<void>((resolve, reject) => udp.once("error", reject).bind({ address: job.localAddress ?? "" }, resolve));
  const begun = performance.now();
  for (let number = 0; number < job.probes; number++) {
    await wait(Math.max(0, begun + number * job.probeEveryMs - performance.now()));
    udp.send(writeProbe({ session, number, sentMs: performance.now(), receivedMs: 0, come: 0 }, testShape.probeBytes), job.port, job.host);
    if (number % 25 === 0) say({ phase: "probing", share: number / job.probes, rateBps: null });
  }
  const last = performance.now();
  while (echoes.length < job.probes && performance.now() - last < LAST_ECHO_MS) await wait(20);
  udp.close();
  return echoes;
}

async function upload(job: LineTestJob, session: string, sockets: readonly Socket[], say: Say) {
  const reports: Report[][] = sockets.map(() => []);
  for (const [i, socket] of sockets.entries()) readReports(socket, reports[i] ?? []);
  let going = true;
  for (const socket of sockets) {
    socket.write(`${JSON.stringify({ reflector: 1, session })}\n`);
    const fill = () => {
      while (going && socket.writable && socket.write(CHUNK));
    };
    socket.on("drain", fill);
    fill();
  }
  const begun = performance.now();
  for (let elapsed = 0; elapsed < job.uploadS * 1000; elapsed = performance.now() - begun) {
    await wait(250);
    const latest = secondsOf(reports).at(-1);
    say({
      phase: "uploading",
      share: Math.min(1, elapsed / (job.uploadS * 1000)),
      rateBps: latest === undefined ? null : Math.round(toIpBps(latest, "tcp")),
    });
  }
  going = false;
  // What the reflector got, not what lies in buffers on the way: that is what was paid for, and a little more.
  const sentBytes = reports.reduce((sum, connection) => sum + (connection.at(-1)?.bytes ?? 0), 0);
  return { reports, sentBytes: Math.round(toIpBps(sentBytes, "tcp")) };
}

function readReports(socket: Socket, into: Report[]): void {
  let rest = "";
  socket.on("data", (chunk: Buffer) => {
    const lines = (rest + chunk.toString("latin1")).split("\n");
    rest = lines.pop() ?? "";
    for (const line of lines) {
      const report = reflectorReport.safeParse(parsed(line));
      if (report.success) into.push(report.data);
    }
  });
}

function parsed(line: string): unknown {
  try {
    return JSON.parse(line);
  } catch {
    return null;
  }
}
