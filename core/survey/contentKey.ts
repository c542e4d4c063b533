import type { MeasurementInput } from "@ukaza/contract/survey";

/** What makes two measurements one, whoever sends them and how often: when, how long, what was found, and how it was counted. */
export function contentKey(m: MeasurementInput): string {
  const optional = [m.udpPayloadBytes, m.rttMs, m.jitterMs, m.lossRatio].map((value) => value ?? "");
  return [Date.parse(m.takenAt), m.durationS, m.rateBps, m.layer, m.floor ? "floor" : "", ...optional].join("|");
}
