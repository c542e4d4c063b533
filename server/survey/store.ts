import { setImmediate as breathe } from "node:timers/promises";
import type { Event } from "@ukaza/contract/event";
import type { ListedMeasurement, MeasurementPage, PageQuery, RegionTrip, Survey, UplinkSurvey } from "@ukaza/contract/survey";
import type { Uplink } from "@ukaza/contract/venue";
import { type Analysis, analyseInSteps } from "@ukaza/core/survey/analyse";
import { bondedOf, bondedVerdict } from "@ukaza/core/survey/bonded";
import type { Placed, SurveyQuestion } from "@ukaza/core/survey/place";
import type { Queryable } from "../db/open";
import { queries } from "../db/queries";
import { busyUplinks, uplinksOf } from "../venues/store";
import type { MeasurementBook } from "./book";

const q = queries(__dirname);

/** What a survey is asked about. */
export interface Scope {
  venueId: string;
  eventId: string | null;
  timeZone: string;
  show: Event["show"];
}

export const scopeOf = (event: Event): Scope => ({ venueId: event.venueId, eventId: event.id, timeZone: event.timeZone, show: event.show });

/** Runs the steps of a sum with everybody else's turn in between. */
async function inTurns<T>(steps: Generator<undefined, T>): Promise<T> {
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
    await breathe();
  }
}

const HOUR_MS = 3_600_000;
/** Analyses kept: a crew looks at a few uplinks of a few events. */
const KEPT = 24;

/** Surveys from the book, each analysis kept until its measurements or its question change. */
export class Surveyor {
  private readonly kept = new Map<string, Analysis>();
  private readonly orders = new WeakMap<Analysis, Map<string, Placed[]>>();

  constructor(
    private readonly db: Queryable,
    readonly book: MeasurementBook,
    private readonly now: () => Date,
  ) {}

  private async analysis(uplink: Uplink, { show, timeZone }: Scope): Promise<Analysis> {
    const { readings, version } = await this.book.readings(uplink.id);
    // Age is counted in days; an answer may be an hour old.
    const asOf = new Date(Math.floor(this.now().getTime() / HOUR_MS) * HOUR_MS).toISOString();
    const { reserveOverride, reserved } = uplink;
    const question: SurveyQuestion = { show, timeZone, asOf, reserveOverride, reserved };
    const key = JSON.stringify([uplink.id, version, question]);
    const known = this.kept.get(key);
    if (known) return known;
    const made = await inTurns(analyseInSteps(readings, question));
    this.kept.set(key, made);
    for (const oldest of this.kept.keys()) {
      if (this.kept.size <= KEPT) break;
      this.kept.delete(oldest);
    }
    return made;
  }

  /** Every uplink of a scope with what its measurements say. */
  async survey(scope: Scope): Promise<Survey> {
    const uplinks = await uplinksOf(this.db, scope.venueId, scope.eventId);
    const busy = await busyUplinks(this.db);
    const ids = uplinks.map((u) => u.id);
    const { rows: trips } = await this.db.query<RegionTrip & { uplinkId: string; takenAt: unknown }>(q("trips"), [ids]);
    const analyses = new Map<string, Analysis>();
    for (const uplink of uplinks) analyses.set(uplink.id, await this.analysis(uplink, scope));
    const members = (group: Uplink) =>
      uplinks.flatMap((u) => {
        const found = group.members.includes(u.id) ? analyses.get(u.id) : undefined;
        return found ? [{ id: u.id, name: u.name, result: found.result }] : [];
      });
    const surveys = uplinks.flatMap((uplink): UplinkSurvey[] => {
      const found = analyses.get(uplink.id);
      if (!found) return [];
      const bonded = uplink.kind === "bonded" ? bondedOf(members(uplink)) : null;
      return [
        {
          uplink,
          result: bonded ? bondedVerdict(found.result, bonded, members(uplink)) : found.result,
          bonded,
          path: found.path,
          hours: found.hours,
          days: found.days,
          bins: found.bins,
          regions: trips.flatMap(({ uplinkId, takenAt, ...trip }) =>
            uplinkId === uplink.id ? [{ ...trip, takenAt: new Date(takenAt as string).toISOString() }] : [],
          ),
          busy: busy.has(uplink.id) || uplink.members.some((id) => busy.has(id)),
        },
      ];
    });
    return { venueId: scope.venueId, timeZone: scope.timeZone, show: scope.show, uplinks: surveys };
  }

  /** A stretch of the sorted list of one uplink's measurements. */
  async page(uplink: Uplink, scope: Scope, query: PageQuery): Promise<MeasurementPage> {
    const analysis = await this.analysis(uplink, scope);
    const sorted = this.sorted(analysis, query);
    const rows = sorted.slice(query.skip, query.skip + query.take).map((p) => listed(p, analysis));
    return { total: sorted.length, skip: query.skip, rows };
  }

  /** The list in its order, kept as long as the analysis: a long list is read in many pages. */
  private sorted(analysis: Analysis, query: PageQuery): Placed[] {
    const orders = this.orders.get(analysis) ?? new Map<string, Placed[]>();
    this.orders.set(analysis, orders);
    const key = `${query.show} ${query.sort} ${query.order}`;
    const known = orders.get(key);
    if (known) return known;
    const { placed, counting, outliers } = analysis;
    const shown = placed.filter(({ reading }) => {
      if (query.show === "counting") return counting.has(reading.id);
      if (query.show === "excluded") return reading.excluded !== null;
      return query.show === "all" || outliers.has(reading.id);
    });
    shown.sort(orderBy(query));
    orders.set(key, shown);
    return shown;
  }
}

const figures: Record<PageQuery["sort"], (p: Placed) => number | null> = {
  time: ({ reading }) => reading.takenAtMs,
  rate: ({ reading }) => reading.ownIpBps,
  rtt: ({ reading }) => reading.rttMs,
  loss: ({ reading }) => reading.lossRatio,
};

/** What was not measured stands last either way; equals stand with the newest first. */
function orderBy({ sort, order }: PageQuery): (a: Placed, b: Placed) => number {
  const sign = order === "asc" ? 1 : -1;
  const figure = figures[sort];
  return (a, b) => {
    const [left, right] = [figure(a), figure(b)];
    if (left !== right && (left === null || right === null)) return left === null ? 1 : -1;
    return sign * ((left ?? 0) - (right ?? 0)) || b.reading.takenAtMs - a.reading.takenAtMs;
  };
}

function listed({ reading, atShowBps }: Placed, { counting, outliers }: Analysis): ListedMeasurement {
  return {
    id: reading.id,
    takenAt: new Date(reading.takenAtMs).toISOString(),
    ownIpBps: reading.ownIpBps,
    atShowBps,
    source: reading.source,
    floor: reading.floor,
    rttMs: reading.rttMs,
    jitterMs: reading.jitterMs,
    lossRatio: reading.lossRatio,
    counts: counting.has(reading.id),
    outlier: outliers.get(reading.id) ?? null,
    excluded: reading.excluded,
  };
}

export async function addTrip(db: Queryable, uplinkId: string, trip: RegionTrip): Promise<void> {
  await db.query(q("addTrip"), [uplinkId, trip.platformId, trip.regionId, trip.rttMs, trip.takenAt]);
}
