import type { Sample } from "@ukaza/contract/air";
import type { Role } from "@ukaza/contract/rig";
import type { SampleRow } from "@ukaza/contract/wrap";

/** The fields of a row after the role, in the order of the contract's `sampleRow`. */
const fields = [
  "at",
  "targetBps",
  "sentBps",
  "receivedBps",
  "framesEncoded",
  "framesDropped",
  "frameRateHz",
  "encoderLoad",
  "queueMs",
  "rttMs",
  "retransmittedShare",
  "reconnects",
  "keyframeS",
  "audioDb",
  "pictureChange",
  "platform",
] as const satisfies readonly (keyof Sample)[];

/** Figures keep the digits that were measured, not those of the arithmetic: places behind the point. */
const places: Partial<Record<(typeof fields)[number], number>> = {
  framesEncoded: 2,
  framesDropped: 2,
  encoderLoad: 3,
  queueMs: 0,
  rttMs: 1,
  retransmittedShare: 4,
  audioDb: 1,
  pictureChange: 3,
};

/** The figures of one sample without its feed, in the order of the fields. */
export type SampleCells = SampleRow extends [unknown, ...infer Cells] ? Cells : never;

export function toCells(sample: Sample): SampleCells {
  const cells = fields.map((field) => {
    const value = sample[field];
    const digits = places[field];
    return typeof value === "number" && digits !== undefined ? Number(value.toFixed(digits)) : value;
  });
  return cells as SampleCells;
}

export function fromCells(cells: SampleCells, feedId: string): Sample {
  return { feedId, ...Object.fromEntries(fields.map((field, i) => [field, cells[i]])) } as Sample;
}

/** A sample as a row of an event record: the feed's role, then its figures. */
export function toSampleRow(role: Role, sample: Sample): SampleRow {
  return [role, ...toCells(sample)];
}

/** The sample that a row of an event record holds, for the feed with that role. */
export function fromSampleRow([, ...cells]: SampleRow, feedId: string): Sample {
  return fromCells(cells, feedId);
}
