import type { Measurement, MeasurementInput, MeasurementsFile } from "@ukaza/contract/survey";
import { writeCsv } from "./csv";

const header = [
  "time",
  "rate_bps",
  "duration_s",
  "layer",
  "udp_payload_bytes",
  "floor",
  "rtt_ms",
  "jitter_ms",
  "loss_ratio",
  "source",
  "series",
  "excluded",
];

/** Measurements as CSV that reads back as the same measurements: UTC times, bit/s at their own layer, loss as a ratio. */
export function measurementsToCsv(measurements: readonly MeasurementInput[]): string {
  const rows = measurements.map((m) => [
    m.takenAt,
    m.rateBps,
    m.durationS,
    m.layer,
    m.udpPayloadBytes ?? null,
    m.floor ? "yes" : "no",
    m.rttMs ?? null,
    m.jitterMs ?? null,
    m.lossRatio ?? null,
    m.source,
    m.seriesBps?.join(" ") ?? null,
    m.excluded ?? null,
  ]);
  return writeCsv(header, rows);
}

export function measurementsToFile(uplink: string, measurements: readonly Measurement[]): MeasurementsFile {
  const bare = measurements.map(({ id: _id, uplinkId: _uplinkId, ...m }) => m);
  return { format: "ukaza-measurements", version: 1, uplink, measurements: bare };
}
