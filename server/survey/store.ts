import { createHash } from "node:crypto";
import type { Event } from "@ukaza/contract/event";
import type { Measurement, MeasurementInput, Uplink, UplinkSurvey } from "@ukaza/contract/survey";
import { ownIpBps } from "@ukaza/core/survey/ownRate";
import { pathVerdict } from "@ukaza/core/survey/path";
import { sustainableRate } from "@ukaza/core/survey/sustainable";
import type { Queryable } from "../db/open";
import { queries } from "../db/queries";

const q = queries(__dirname);

/** A feed worth asking the path about before anything is fitted. */
const TYPICAL_FEED_BPS = 6_000_000;

interface Row {
  id: string;
  uplink_id: string;
  taken_at: Date;
  duration_s: number;
  rate_bps: number;
  layer: Measurement["layer"];
  udp_payload_bytes: number | null;
  series_bps: number[] | null;
  floor: boolean;
  rtt_ms: number | null;
  jitter_ms: number | null;
  loss_ratio: number | null;
  source: Measurement["source"];
}

/** A row as the contract has it: what is not known is left out. */
function asMeasurement(row: Row): Measurement {
  const optional = {
    udpPayloadBytes: row.udp_payload_bytes,
    seriesBps: row.series_bps,
    rttMs: row.rtt_ms,
    jitterMs: row.jitter_ms,
    lossRatio: row.loss_ratio,
  };
  return {
    id: row.id,
    uplinkId: row.uplink_id,
    takenAt: row.taken_at.toISOString(),
    durationS: row.duration_s,
    rateBps: row.rate_bps,
    layer: row.layer,
    floor: row.floor,
    source: row.source,
    ...Object.fromEntries(Object.entries(optional).filter(([, value]) => value !== null)),
  };
}

/** Every uplink of an event's venue with its measurements and what they say about the event's hours. */
export async function surveyOf(db: Queryable, event: Event, asOf: string): Promise<UplinkSurvey[]> {
  const { rows: uplinks } = await db.query<Uplink & { pricePerGb: number | null }>(q("uplinks"), [event.venueId]);
  const { rows } = await db.query<Row>(q("measurements"), [event.venueId]);
  const all = rows.map(asMeasurement);
  return uplinks.map(({ pricePerGb, ...uplink }) => {
    const own = all.filter((m) => m.uplinkId === uplink.id);
    const question = { show: event.show, timeZone: event.timeZone, asOf, reserveOverride: uplink.reserveOverride };
    return {
      uplink: { ...uplink, ...(pricePerGb === null ? {} : { pricePerGb }) },
      measurements: own.map((m) => ({ ...m, ownIpBps: Math.round(ownIpBps(m)) })),
      result: sustainableRate(own, question),
      path: pathVerdict(own, TYPICAL_FEED_BPS),
    };
  });
}

/** Two measurements with the same contents are one, whoever sends them and how often. */
function contentHash(m: MeasurementInput): string {
  const content = [Date.parse(m.takenAt), m.durationS, m.rateBps, m.layer, m.rttMs, m.jitterMs, m.lossRatio, m.floor];
  return createHash("sha256").update(JSON.stringify(content)).digest("hex").slice(0, 32);
}

/** Adds measurements, all or none; those already there are passed over. Gives how many were new. */
export async function addMeasurements(db: Queryable, uplinkId: string, measurements: MeasurementInput[]): Promise<number> {
  const rows = new Map(
    measurements.map((m) => {
      const hash = contentHash(m);
      const id = createHash("sha256").update(`${uplinkId}/${hash}`).digest("hex").slice(0, 20);
      return [hash, { ...m, id: `m-${id}`, hash }];
    }),
  );
  return (await db.query(q("insert"), [uplinkId, JSON.stringify([...rows.values()])])).rows.length;
}

/** Takes a measurement out (`at`: when) or puts it back (null). false: there is none. */
export async function setRemoved(db: Queryable, id: string, at: string | null): Promise<boolean> {
  return (await db.query(q("remove"), [id, at])).rows.length > 0;
}

export async function setReserve(db: Queryable, uplinkId: string, reserve: number | null): Promise<boolean> {
  return (await db.query(q("reserve"), [uplinkId, reserve])).rows.length > 0;
}

/** The clock on the wall of an uplink's venue; null: no such uplink. */
export async function timeZoneOf(db: Queryable, uplinkId: string): Promise<string | null> {
  return (await db.query<{ timeZone: string }>(q("timeZone"), [uplinkId])).rows[0]?.timeZone ?? null;
}
