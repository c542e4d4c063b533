import type { Sample } from "@ukaza/contract/air";
import type { Role } from "@ukaza/contract/rig";
import type { SampleRow } from "@ukaza/contract/wrap";

/** A sample as a row of an event record. Figures keep the digits that were measured, not those of the arithmetic. */
export function toSampleRow(role: Role, s: Sample): SampleRow {
  const digits = (value: number | null, places: number) => (value === null ? null : Number(value.toFixed(places)));
  return [
    role,
    s.at,
    s.targetBps,
    s.sentBps,
    s.receivedBps,
    digits(s.framesEncoded, 2),
    digits(s.framesDropped, 2),
    s.frameRateHz,
    digits(s.encoderLoad, 3),
    digits(s.queueMs, 0),
    digits(s.rttMs, 1),
    digits(s.retransmittedShare, 4),
    s.reconnects,
    s.keyframeS,
    digits(s.audioDb, 1),
    digits(s.pictureChange, 3),
    s.platform,
  ];
}

/** The sample that a row of an event record holds, for the feed with that role. */
export function fromSampleRow(row: SampleRow, feedId: string): Sample {
  const [
    ,
    at,
    targetBps,
    sentBps,
    receivedBps,
    framesEncoded,
    framesDropped,
    frameRateHz,
    encoderLoad,
    queueMs,
    rttMs,
    retransmittedShare,
    reconnects,
    keyframeS,
    audioDb,
    pictureChange,
    platform,
  ] = row;
  return {
    feedId,
    at,
    targetBps,
    sentBps,
    receivedBps,
    framesEncoded,
    framesDropped,
    frameRateHz,
    encoderLoad,
    queueMs,
    rttMs,
    retransmittedShare,
    reconnects,
    keyframeS,
    audioDb,
    pictureChange,
    platform,
  };
}
