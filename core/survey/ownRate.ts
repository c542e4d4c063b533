import type { MeasurementInput } from "@ukaza/contract/survey";
import { TCP_SEGMENT_BYTES } from "../media/rtmpLoad";
import { quantile } from "../stats";

/** IPv4 20 and UDP 8 header bytes. */
const UDP_HEADERS = 28;
/** The most a datagram carries unfragmented at MTU 1500; assumed where the test did not say. */
const UDP_PAYLOAD_DEFAULT = 1472;

/**
 * Turns a rate counted at another layer into bit/s at the IP layer.
 * TCP: 1500 bytes on the line for each 1448 delivered. UDP: 28 header bytes a datagram; a payload over
 * 1472 bytes is fragmented and each fragment carries an IPv4 header of its own (RFC 791, 3.2).
 */
export function toIpBps(rateBps: number, layer: MeasurementInput["layer"], udpPayloadBytes = UDP_PAYLOAD_DEFAULT): number {
  if (layer === "ip") return rateBps;
  if (layer === "tcp") return (rateBps * 1500) / TCP_SEGMENT_BYTES;
  const fragments = Math.ceil((udpPayloadBytes + 8) / 1480);
  const headers = UDP_HEADERS + 20 * (fragments - 1);
  return (rateBps * (udpPayloadBytes + headers)) / udpPayloadBytes;
}

/** A measurement's own rate, bit/s at the IP layer: the 10th percentile of its seconds where kept, else its mean. */
export function ownIpBps(m: Pick<MeasurementInput, "rateBps" | "layer" | "udpPayloadBytes" | "seriesBps">): number {
  const own = m.seriesBps && m.seriesBps.length > 0 ? (quantile(m.seriesBps, 0.1) ?? m.rateBps) : m.rateBps;
  return toIpBps(own, m.layer, m.udpPayloadBytes);
}
