import { createSocket, type Socket as UdpSocket } from "node:dgram";
import { connect, createServer, type Server, type Socket } from "node:net";
import type { Random } from "@ukaza/core/random";
import { Delay } from "./delay";
import { type Shape, Shaper, tcpWireBytes, udpWireBytes } from "./shaper";

/** Where an uplink's way out begins: what is sent to this port goes through the line to the far end, and answers come back. */
export interface Entry {
  port: number;
  /** Bytes at the IP layer that have gone up since this was last asked. */
  takeLeft: () => number;
  close: () => Promise<void>;
}

const PIECE_BYTES = 4 * 1448;

/** Opens a TCP and a UDP port of the same number on loopback, both leading through the shaped line to `target`. */
export async function openEntry(target: { host: string; port: number }, shape: () => Shape, random: Random): Promise<Entry> {
  const shaper = new Shaper(shape);
  const sockets = new Set<Socket>();
  const keep = (socket: Socket) => {
    sockets.add(socket);
    socket.on("error", () => undefined);
    socket.once("close", () => sockets.delete(socket));
  };
  let number = 0;
  const tcp = createServer((near) => {
    keep(near);
    const far = connect({ ...target, noDelay: true });
    keep(far);
    relayStream(near, far, `tcp-${number++}`, shaper, shape);
  });
  await new Promise<void>((resolve, reject) => tcp.once("error", reject).listen(0, "127.0.0.1", resolve));
  const { port } = tcp.address() as { port: number };
  const udp = await bindUdp(port);
  const pairs = relayDatagrams(udp, target, shaper, shape, random);
  return {
    port,
    takeLeft: () => shaper.takeLeft(),
    close: async () => {
      shaper.stop();
      for (const socket of sockets) socket.destroy();
      pairs.close();
      await Promise.all([closeServer(tcp), new Promise<void>((resolve) => udp.close(() => resolve()))]);
    },
  };
}

const closeServer = (server: Server) => new Promise<void>((resolve) => server.close(() => resolve()));

function bindUdp(port: number): Promise<UdpSocket> {
  const udp = createSocket("udp4");
  return new Promise((resolve, reject) => udp.once("error", reject).bind(port, "127.0.0.1", () => resolve(udp)));
}

/** Up: in pieces through the shaper, then half the round trip. Down: half the round trip. The sender waits while the line's buffer is full. */
function relayStream(near: Socket, far: Socket, flow: string, shaper: Shaper, shape: () => Shape): void {
  const [up, down] = [new Delay(false), new Delay(false)];
  near.on("data", (chunk: Buffer) => {
    for (let at = 0; at < chunk.length; at += PIECE_BYTES) {
      const piece = chunk.subarray(at, at + PIECE_BYTES);
      shaper.send(flow, tcpWireBytes(piece.length), () => up.add(shape().rttMs / 2, () => far.writable && far.write(piece)));
    }
    if (shaper.hasRoom(flow)) return;
    near.pause();
    shaper.whenRoom(flow, () => near.resume());
  });
  far.on("data", (chunk: Buffer) => down.add(shape().rttMs / 2, () => near.writable && near.write(chunk)));
  near.on("close", () => {
    shaper.forget(flow);
    up.stop();
    down.stop();
    far.destroy();
  });
  far.on("close", () => near.destroy());
}

const MOST_PAIRS = 64;

/** Up: lost by chance or where the line's buffer is full, else through the shaper and half the round trip. Down: half the round trip. */
function relayDatagrams(udp: UdpSocket, target: { host: string; port: number }, shaper: Shaper, shape: () => Shape, random: Random) {
  const pairs = new Map<string, UdpSocket>();
  const [up, down] = [new Delay(true), new Delay(true)];
  const pairOf = (address: string, port: number): UdpSocket => {
    const key = `${address}:${port}`;
    const known = pairs.get(key);
    if (known) return known;
    if (pairs.size >= MOST_PAIRS) {
      const [oldest, socket] = pairs.entries().next().value ?? [];
      socket?.close();
      pairs.delete(oldest ?? "");
    }
    const made = createSocket("udp4");
    made.on("error", () => undefined);
    made.on("message", (bytes) => down.add(shape().rttMs / 2, () => pairs.get(key) === made && udp.send(bytes, port, address)));
    pairs.set(key, made);
    return made;
  };
  udp.on("error", () => undefined);
  udp.on("message", (bytes, from) => {
    const far = pairOf(from.address, from.port);
    if (random() < shape().lossRatio || !shaper.hasRoom("datagrams")) return;
    const send = () => [...pairs.values()].includes(far) && far.send(bytes, target.port, target.host);
    shaper.send("datagrams", udpWireBytes(bytes.length), () => up.add(shape().rttMs / 2, send));
  });
  return {
    close: () => {
      up.stop();
      down.stop();
      for (const pair of pairs.values()) pair.close();
    },
  };
}
