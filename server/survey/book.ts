import { createHash } from "node:crypto";
import { setImmediate as breathe } from "node:timers/promises";
import type { Measurement, MeasurementInput } from "@ukaza/contract/survey";
import { contentKey } from "@ukaza/core/survey/contentKey";
import { type Reading, readingOf } from "@ukaza/core/survey/reading";
import type { Queryable } from "../db/open";
import { queries } from "../db/queries";

const q = queries(__dirname);

interface Row {
  id: string;
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
  excluded: string | null;
}

/** Rows read at a time: few enough that nobody else waits long for the one connection. */
const PAGE = 2_000;

/** A row as the contract has it: what is not known is left out. */
function asMeasurement(row: Row, uplinkId: string): Measurement {
  const optional = {
    udpPayloadBytes: row.udp_payload_bytes,
    seriesBps: row.series_bps,
    rttMs: row.rtt_ms,
    jitterMs: row.jitter_ms,
    lossRatio: row.loss_ratio,
    excluded: row.excluded,
  };
  return {
    id: row.id,
    uplinkId,
    takenAt: row.taken_at.toISOString(),
    durationS: row.duration_s,
    rateBps: Number(row.rate_bps),
    layer: row.layer,
    floor: row.floor,
    source: row.source,
    ...Object.fromEntries(Object.entries(optional).filter(([, value]) => value !== null)),
  };
}

/** Every measurement of an uplink in pages, in the order of their ids. Others get their turn in between. */
export async function* measurementPages(db: Queryable, uplinkId: string): AsyncGenerator<Measurement[]> {
  for (let after = ""; ; ) {
    const { rows } = await db.query<Row>(q("page"), [uplinkId, after, PAGE]);
    if (rows.length > 0) yield rows.map((row) => asMeasurement(row, uplinkId));
    if (rows.length < PAGE) return;
    after = rows.at(-1)?.id ?? "";
    await breathe();
  }
}

interface Sheet {
  byId: Map<string, Reading>;
  /** Counts up with every change. */
  version: number;
}

/**
 * The readings of each uplink, kept in memory from the first question on: a hundred thousand of them are read from the
 * database once, in pages, and every change goes through here.
 */
export class MeasurementBook {
  private readonly sheets = new Map<string, Promise<Sheet>>();

  constructor(private readonly db: Queryable) {}

  private sheet(uplinkId: string): Promise<Sheet> {
    const known = this.sheets.get(uplinkId);
    if (known) return known;
    const loading = this.load(uplinkId);
    this.sheets.set(uplinkId, loading);
    loading.catch(() => this.sheets.delete(uplinkId));
    return loading;
  }

  private async load(uplinkId: string): Promise<Sheet> {
    const byId = new Map<string, Reading>();
    for await (const page of measurementPages(this.db, uplinkId)) for (const m of page) byId.set(m.id, readingOf(m));
    return { byId, version: 0 };
  }

  async readings(uplinkId: string): Promise<{ readings: Reading[]; version: number }> {
    const { byId, version } = await this.sheet(uplinkId);
    return { readings: [...byId.values()], version };
  }

  /** Adds measurements, all or none; those already there are passed over. Gives the ids of the new ones. */
  async add(uplinkId: string, measurements: MeasurementInput[], importId: string | null): Promise<string[]> {
    const sheet = await this.sheet(uplinkId);
    const rows = new Map(
      measurements.map((m) => {
        const key = contentKey(m);
        const id = createHash("sha256").update(`${uplinkId}/${key}`).digest("hex").slice(0, 20);
        return [key, { ...m, id: `m-${id}`, key }];
      }),
    );
    const added = await this.db.query<{ id: string }>(q("insert"), [uplinkId, JSON.stringify([...rows.values()]), importId]);
    const fresh = new Set(added.rows.map((row) => row.id));
    for (const row of rows.values()) if (fresh.has(row.id)) sheet.byId.set(row.id, readingOf(row));
    if (fresh.size > 0) sheet.version += 1;
    return [...fresh];
  }

  /** Which of these contents are there already. */
  async known(uplinkId: string, keys: string[]): Promise<string[]> {
    return (await this.db.query<{ key: string }>(q("known"), [uplinkId, keys])).rows.map((row) => row.key);
  }

  /** Excludes a measurement for a reason, or lets it count again (null). Gives its uplink; null: there is no such measurement. */
  async exclude(id: string, reason: string | null): Promise<string | null> {
    const [row] = (await this.db.query<{ uplink_id: string }>(q("exclude"), [id, reason])).rows;
    if (!row) return null;
    const sheet = await this.sheet(row.uplink_id);
    const reading = sheet.byId.get(id);
    if (reading) sheet.byId.set(id, { ...reading, excluded: reason });
    sheet.version += 1;
    return row.uplink_id;
  }

  /** Takes back what one import added. Gives how many that were. */
  async undo(uplinkId: string, importId: string): Promise<number> {
    const sheet = await this.sheet(uplinkId);
    const { rows } = await this.db.query<{ id: string }>(q("undoImport"), [uplinkId, importId]);
    for (const { id } of rows) sheet.byId.delete(id);
    sheet.version += 1;
    return rows.length;
  }
}
