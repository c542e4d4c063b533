import type { Health, Incident, LogLine, Sample } from "@ukaza/contract/air";
import type { Event } from "@ukaza/contract/event";
import type { LineupFacts } from "@ukaza/contract/lineup";
import type { Feed } from "@ukaza/contract/rig";
import type { ActiveSpan, ChartPoint, FeedReport, Report } from "@ukaza/contract/wrap";
import { sentOf } from "../air/assess";
import { feedLoad } from "../media/load";
import { mean, quantile } from "../stats";

/** The verdict of a feed from one instant until the next. */
export interface HealthSpan {
  feedId: string;
  at: string;
  health: Health;
}

export interface ReportInput {
  event: Event;
  venueName: string;
  standins: boolean;
  facts: LineupFacts;
  feeds: (Feed & { uplinkName: string })[];
  /** In order of time. `sampleStepS`: seconds that one sample stands for. */
  samples: Sample[];
  sampleStepS: number;
  health: HealthSpan[];
  active: ActiveSpan[];
  incidents: Incident[];
  log: LogLine[];
  now: string;
}

/** A chart on a phone has no room for more points. */
const CHART_POINTS = 240;
/** Planned data is met with a tenth to spare (budget model). */
const DATA_MARGIN = 1.1;

const ms = (instant: string) => Date.parse(instant);

/**
 * The report of an event: planned against actual, availability, incidents, bitrates, data used.
 * Availability: share of the public time during which the feed the viewers had was steady or strained;
 * seconds without a verdict count as silent, so a gap in the record never flatters the figure.
 */
export function makeReport(input: ReportInput): Report {
  const { event, facts, feeds, samples } = input;
  const seconds = publicSeconds(facts, input.now);
  const secondsBy = healthSeconds(input, facts, input.now);
  const held = secondsBy.steady + secondsBy.strained;
  const feedReports = feeds.map((feed) => feedReport(feed, samples, input.sampleStepS));
  const plannedS = (ms(event.show.end) - ms(event.show.start)) / 1000;
  const plannedBps = feeds.reduce((sum, feed) => sum + feedLoad(feed.settings).loadBps, 0);
  const sampled = new Set(samples.filter((s) => inPublic(facts, s.at, input.now)).map((s) => Math.floor(ms(s.at) / 1000)));
  return {
    format: "ukaza-report",
    version: 1,
    eventId: event.id,
    eventName: event.name,
    venueName: input.venueName,
    timeZone: event.timeZone,
    madeAt: input.now,
    standins: input.standins,
    planned: {
      start: event.show.start,
      end: event.show.end,
      seconds: plannedS,
      dataBytes: feeds.length === 0 ? null : Math.round((plannedBps / 8) * plannedS * DATA_MARGIN),
    },
    actual: { publicAt: facts.publicAt, endedAt: facts.endedAt, seconds },
    availability: seconds > 0 ? Math.min(1, held / seconds) : null,
    secondsBy,
    unsampledS: Math.max(0, Math.round(seconds - sampled.size * input.sampleStepS)),
    incidents: input.incidents,
    switches: input.log.filter((line) => line.kind === "switch").length,
    feeds: feedReports,
    dataBytes: feedReports.reduce((sum, f) => sum + f.sentBytes, 0),
    log: input.log,
  };
}

function publicSeconds(facts: LineupFacts, now: string): number {
  if (facts.publicAt === null) return 0;
  return Math.max(0, (ms(facts.endedAt ?? now) - ms(facts.publicAt)) / 1000);
}

function inPublic(facts: LineupFacts, at: string, now: string): boolean {
  return facts.publicAt !== null && ms(at) >= ms(facts.publicAt) && ms(at) <= ms(facts.endedAt ?? now);
}

/** What held at an instant: the last entry that is not after it. Entries in order of time. */
function heldAt<T>(entries: readonly T[], atMs: number, when: (entry: T) => string): T | undefined {
  let low = 0;
  let high = entries.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    const entry = entries[middle];
    if (entry !== undefined && ms(when(entry)) <= atMs) low = middle + 1;
    else high = middle;
  }
  return entries[low - 1];
}

/** Seconds of the public time by the health of the feed that the viewers had. */
function healthSeconds(input: ReportInput, facts: LineupFacts, now: string): Record<Health, number> {
  const total: Record<Health, number> = { steady: 0, strained: 0, broken: 0, silent: 0 };
  if (facts.publicAt === null) return total;
  const from = ms(facts.publicAt);
  const until = ms(facts.endedAt ?? now);
  const turns = [
    from,
    ...[...input.health.map((h) => ms(h.at)), ...input.active.map((a) => ms(a.from))].filter((t) => t > from && t < until),
    until,
  ];
  const edges = [...new Set(turns)].sort((a, b) => a - b);
  const byFeed = new Map(input.feeds.map((f) => [f.id, input.health.filter((h) => h.feedId === f.id)]));
  for (let i = 0; i + 1 < edges.length; i++) {
    const start = edges[i] ?? from;
    const role = heldAt(input.active, start, (a) => a.from)?.role ?? "main";
    const feed = input.feeds.find((f) => f.role === role);
    const health = heldAt(byFeed.get(feed?.id ?? "") ?? [], start, (h) => h.at)?.health ?? "silent";
    total[health] += ((edges[i + 1] ?? start) - start) / 1000;
  }
  return total;
}

function feedReport(feed: Feed & { uplinkName: string }, all: readonly Sample[], sampleStepS: number): FeedReport {
  const samples = all.filter((s) => s.feedId === feed.id);
  const sent = samples.map(sentOf).filter((v): v is number => v !== null);
  const loadShare = feed.targetBps > 0 ? feedLoad(feed.settings).loadBps / feed.targetBps : 1;
  const perPoint = Math.max(1, Math.ceil(samples.length / CHART_POINTS));
  return {
    feedId: feed.id,
    role: feed.role,
    uplinkName: feed.uplinkName,
    targetBps: feed.targetBps,
    meanSentBps: mean(sent),
    lowestSentBps: quantile(sent, 0),
    sentBytes: Math.round((sent.reduce((sum, v) => sum + v, 0) / 8) * loadShare * sampleStepS),
    samples: samples.length,
    stepS: perPoint * sampleStepS,
    points: thin(samples, perPoint),
  };
}

/** Means over runs of `perPoint` samples. */
function thin(samples: readonly Sample[], perPoint: number): ChartPoint[] {
  const points: ChartPoint[] = [];
  for (let i = 0; i < samples.length; i += perPoint) {
    const run = samples.slice(i, i + perPoint);
    const [first] = run;
    if (!first) break;
    const average = (pick: (s: Sample) => number | null) => mean(run.map(pick).filter((v): v is number => v !== null));
    points.push({ at: first.at, sentBps: average((s) => s.sentBps), receivedBps: average((s) => s.receivedBps) });
  }
  return points;
}
