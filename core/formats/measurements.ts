import { readIperf3 } from "./iperf3";
import { type FileReading, readMeasurementsCsv } from "./measurementsCsv";

/** Reads a file of measurements, told apart by its first sign: "{" opens `iperf3 -J`, anything else is CSV. */
export function readMeasurements(text: string, timeZone: string): FileReading {
  return /^[\uFEFF\s]*\{/.test(text) ? readIperf3(text) : readMeasurementsCsv(text, timeZone);
}
