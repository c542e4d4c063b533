import type { WholePlan } from "@ukaza/contract/fitPlan";
import type { UplinkSurvey } from "@ukaza/contract/survey";
import type { Uplink } from "@ukaza/contract/venue";
import { healthRules } from "../air/healthRules";
import { normal, normals, type Random, seeded } from "../random";
import { BONDING_COST } from "../survey/bonded";
import { advance, type LineModel, type LineState, lineAtRest } from "../survey/lineModel";

/** What tests of some seconds cannot tell of a whole show; rules of thumb, named so on screen. */
export const forecastRules = {
  shows: 2_000,
  /** The level of a show lies off the tests' by this share, divided by the root of their number: few tests know little. */
  levelSpread: 0.3,
  /** Second by second the line wanders around its level: 6 % of it, with a memory of about a minute. */
  wander: { rho: 0.98, sigma: 0.012 },
  /** Outages an hour and how long one lasts, s, by kind of uplink. */
  outages: {
    wired: { perHour: 0.02, lastsS: 30 },
    "wi-fi": { perHour: 0.3, lastsS: 15 },
    cellular: { perHour: 0.3, lastsS: 20 },
    satellite: { perHour: 0.5, lastsS: 10 },
    bonded: { perHour: 0.02, lastsS: 20 },
  } satisfies Record<Uplink["kind"], { perHour: number; lastsS: number }>,
} as const;

/** One way out, or one member of a bonded group, as a forecast sees it. Rates in bit/s at the IP layer. */
export interface ForecastPart {
  /** Levels that tests found, with how many of them. */
  levels: readonly { fromBps: number; toBps: number; tests: number }[];
  outage: LineModel["outage"];
  wander: LineModel["wander"];
  levelSpread: number;
}

export interface ForecastLine {
  id: string;
  parts: readonly ForecastPart[];
  tests: number;
}

function partOf({ uplink, bins, result }: UplinkSurvey): ForecastPart {
  const levels = bins
    .filter((b) => b.counting > 0)
    .map((b) => ({
      fromBps: Math.max(0, b.fromBps - result.reservedBps),
      toBps: Math.max(0, b.toBps - result.reservedBps),
      tests: b.counting,
    }));
  const tests = levels.reduce((sum, l) => sum + l.tests, 0);
  const { perHour, lastsS } = forecastRules.outages[uplink.kind];
  return {
    levels,
    outage: { perSecond: perHour / 3600, endsPerSecond: 1 / lastsS, leftShare: 0 },
    wander: forecastRules.wander,
    levelSpread: tests === 0 ? 0 : forecastRules.levelSpread / Math.sqrt(tests),
  };
}

/** An uplink from its tests near the show; a bonded group without tests of its own from its members. null: there are none. */
export function forecastLine(id: string, surveys: readonly UplinkSurvey[]): ForecastLine | null {
  const own = surveys.find((s) => s.uplink.id === id);
  if (!own) return null;
  const tested = [own].filter((s) => s.bins.some((b) => b.counting > 0));
  const from = tested.length > 0 ? tested : surveys.filter((s) => own.uplink.members.includes(s.uplink.id));
  const parts = from.map(partOf);
  if (parts.length === 0 || parts.some((p) => p.levels.length === 0)) return null;
  return { id, parts, tests: parts.reduce((sum, p) => sum + p.levels.reduce((n, l) => n + l.tests, 0), 0) };
}

/** A plan as the lines see it: what each carries in all, and over which lines each destination is reached. */
export interface ForecastPlan {
  loads: readonly { line: string; loadBps: number }[];
  /** One entry for each way that destinations are reached; `backup` null: there is none. */
  routes: readonly { main: string; backup: string | null }[];
}

/** What a whole plan asks of the lines. A destination that a relay serves is reached when the relay is. */
export function forecastPlan({ destinations, uplinks }: Pick<WholePlan, "destinations" | "uplinks">): ForecastPlan {
  const routes = new Map<string, ForecastPlan["routes"][number]>();
  for (const { feeds } of destinations) {
    const main = feeds.find((f) => f.role === "main")?.uplinkId;
    const backup = feeds.find((f) => f.role === "backup")?.uplinkId ?? null;
    if (main !== undefined) routes.set(`${main} ${backup}`, { main, backup });
  }
  return {
    loads: uplinks.flatMap(({ uplinkId, loadBps }) => (loadBps > 0 ? [{ line: uplinkId, loadBps }] : [])),
    routes: [...routes.values()],
  };
}

/** Plans put through the same evenings, so that what differs is theirs. */
export interface ForecastQuestion {
  seconds: number;
  seed: number;
  lines: readonly ForecastLine[];
  plans: readonly ForecastPlan[];
  failover: { brokenForS: number; maxSwitches: number; withinS: number };
}

/** What became of one plan. */
export interface ForecastResult {
  shows: number;
  /** Shows in which what all viewers get was steady to the end; and with the main feeds alone. */
  held: number;
  heldAlone: number;
  /** Seconds not steady, all shows together. */
  notSteadyS: number;
  notSteadyAloneS: number;
  /** What the first trouble of a show was (main feeds alone), by uplink. */
  first: { line: string; kind: "outage" | "sag"; shows: number }[];
}

type Health = 0 | 1 | 2;
const STEADY: Health = 0;
const STRAINED: Health = 1;
const BROKEN: Health = 2;

const { windowS, strained, broken, worseAfterSamples, betterAfterSamples } = healthRules;

/** Health of a feed by what is sent of its target, by the rules that judge it on air; the rest of those needs an encoder. */
class Judge {
  health: Health = STEADY;
  private readonly shares = new Array<number>(windowS).fill(1);
  private at = 0;
  private sum: number = windowS;
  private seen: Health = STEADY;
  private times = 0;
  /** Seconds in a row in which all was sent. */
  private whole: number = windowS;

  take(share: number): Health {
    // All is well, and was: most of the millions of seconds.
    this.whole = share === 1 ? this.whole + 1 : 0;
    if (this.whole > windowS && this.health === STEADY) {
      if (this.whole === windowS + 1) {
        this.shares.fill(1);
        this.sum = windowS;
        this.seen = STEADY;
      }
      return STEADY;
    }
    this.sum += share - (this.shares[this.at] as number);
    this.shares[this.at] = share;
    this.at = (this.at + 1) % windowS;
    const mean = this.sum / windowS;
    const now: Health = mean < broken.sentBelow ? BROKEN : mean < strained.sentBelow - 1e-9 ? STRAINED : STEADY;
    this.times = now === this.seen ? this.times + 1 : 1;
    this.seen = now;
    if (now > this.health && this.times >= worseAfterSamples) this.health = now;
    else if (now < this.health && this.times >= betterAfterSamples) this.health = now;
    return this.health;
  }
}

/** A line on one evening, and the second it is in. */
class Evening {
  private readonly models: LineModel[];
  private readonly states: LineState[];
  private readonly noise: Random;
  capacityBps = 0;
  out = false;

  constructor(
    line: ForecastLine,
    private readonly random: Random,
  ) {
    this.noise = normals(random);
    this.models = line.parts.map((part) => ({
      meanBps: levelOf(part, random),
      daily: { share: 0, bestMinute: 0 },
      crowd: { share: 0, fromMinute: 0, fullMinute: 0, untilMinute: 0 },
      wander: part.wander,
      outage: part.outage,
      loss: { toBad: 0, toGood: 1, good: 0, bad: 0 },
      rttMs: 0,
    }));
    this.states = this.models.map(() => ({ ...lineAtRest }));
  }

  second(): void {
    let capacityBps = 0;
    this.out = false;
    for (let i = 0; i < this.models.length; i++) {
      const state = this.states[i] as LineState;
      capacityBps += advance(this.models[i] as LineModel, state, 0, this.random, this.noise());
      if (state.out) this.out = true;
    }
    this.capacityBps = this.models.length > 1 ? capacityBps * (1 - BONDING_COST) : capacityBps;
  }
}

/** One destination's viewers on one evening: which feed they have, and when they last were switched. */
class Watching {
  private active: Judge;
  private brokenS = 0;
  private readonly switches: number[] = [];

  constructor(
    readonly main: Judge,
    private readonly backup: Judge | null,
    private readonly failover: ForecastQuestion["failover"],
  ) {
    this.active = main;
  }

  /** Whether what viewers have is steady in this second; a switch takes hold in the next. */
  second(s: number): boolean {
    const { backup, failover, main } = this;
    const { health } = this.active;
    this.brokenS = health === BROKEN ? this.brokenS + 1 : 0;
    if (backup && this.brokenS >= failover.brokenForS) {
      const other = this.active === main ? backup : main;
      while (this.switches.length > 0 && s - (this.switches[0] as number) > failover.withinS) this.switches.shift();
      if (other.health === STEADY && this.switches.length < failover.maxSwitches) {
        this.switches.push(s);
        this.active = other;
        this.brokenS = 0;
      }
    }
    return health === STEADY;
  }
}

/** One plan on one evening. All feeds on a line suffer alike: a line is judged as a whole. */
class Running {
  /** Seconds in which a main feed, and in which what some viewers have, was not steady. */
  alone = 0;
  switched = 0;
  private readonly lines: { id: string; evening: Evening; loadBps: number; judge: Judge; isMain: boolean }[];
  private readonly watching: Watching[];

  constructor(evenings: ReadonlyMap<string, Evening>, plan: ForecastPlan, failover: ForecastQuestion["failover"]) {
    const mains = new Set(plan.routes.map((r) => r.main));
    this.lines = plan.loads.map(({ line, loadBps }) => {
      const evening = evenings.get(line);
      if (!evening) throw new RangeError(`there is no line "${line}" to forecast`);
      return { id: line, evening, loadBps, judge: new Judge(), isMain: mains.has(line) };
    });
    const judge = (id: string): Judge => {
      const found = this.lines.find((l) => l.id === id);
      if (!found) throw new RangeError(`the plan says no load for "${id}"`);
      return found.judge;
    };
    this.watching = plan.routes.map(({ main, backup }) => new Watching(judge(main), backup === null ? null : judge(backup), failover));
  }

  /** One second; gives the main line that is the first to be in trouble, when it comes. */
  second(s: number): { line: string; kind: "outage" | "sag" } | null {
    let troubled: (typeof this.lines)[number] | null = null;
    for (let i = 0; i < this.lines.length; i++) {
      const line = this.lines[i] as (typeof this.lines)[number];
      const health = line.judge.take(Math.min(1, line.evening.capacityBps / line.loadBps));
      if (line.isMain && health !== STEADY) troubled ??= line;
    }
    let steady = true;
    for (let i = 0; i < this.watching.length; i++) if (!(this.watching[i] as Watching).second(s)) steady = false;
    if (!steady) this.switched++;
    if (!troubled) return null;
    this.alone++;
    return this.alone === 1 ? { line: troubled.id, kind: troubled.evening.out ? "outage" : "sag" } : null;
  }
}

/** The level of one evening: one of the tests', a little off. */
function levelOf({ levels, levelSpread }: ForecastPart, random: Random): number {
  const tests = levels.reduce((sum, l) => sum + l.tests, 0);
  let at = random() * tests;
  let level = levels[levels.length - 1];
  for (const l of levels) {
    if (at < l.tests) {
      level = l;
      break;
    }
    at -= l.tests;
  }
  if (!level) return 0;
  return (level.fromBps + random() * (level.toBps - level.fromBps)) * Math.exp(levelSpread * normal(random));
}

/**
 * Puts plans through seeded evenings of the stand-in line's model (models, section 9) fitted to the venue's own tests, some at a
 * time; the same seed gives the same result however it is cut. What the tests cannot tell is taken from `forecastRules`.
 */
export class Forecast {
  private readonly results: ForecastResult[];
  private shows = 0;

  constructor(private readonly question: ForecastQuestion) {
    this.results = question.plans.map(() => ({ shows: 0, held: 0, heldAlone: 0, notSteadyS: 0, notSteadyAloneS: 0, first: [] }));
  }

  run(shows: number): ForecastResult[] {
    for (let i = 0; i < shows; i++) this.show(this.shows++);
    return this.results.map((r) => ({ ...r, first: [...r.first].sort((a, b) => b.shows - a.shows) }));
  }

  private show(number: number): void {
    const { seed, lines, plans, failover, seconds } = this.question;
    const evenings = new Map(lines.map((line, i) => [line.id, new Evening(line, seeded(seed + number * 7919 + i * 104_729))]));
    const running = plans.map((plan) => new Running(evenings, plan, failover));
    const all = [...evenings.values()];
    for (let s = 0; s < seconds; s++) {
      for (let i = 0; i < all.length; i++) (all[i] as Evening).second();
      for (let i = 0; i < running.length; i++) {
        const trouble = (running[i] as Running).second(s);
        if (trouble) this.note(i, trouble);
      }
    }
    running.forEach((run, i) => {
      const result = this.results[i] as ForecastResult;
      result.shows++;
      result.notSteadyAloneS += run.alone;
      result.notSteadyS += run.switched;
      if (run.alone === 0) result.heldAlone++;
      if (run.switched === 0) result.held++;
    });
  }

  private note(plan: number, { line, kind }: { line: string; kind: "outage" | "sag" }): void {
    const { first } = this.results[plan] as ForecastResult;
    const known = first.find((f) => f.line === line && f.kind === kind);
    if (known) known.shows++;
    else first.push({ line, kind, shows: 1 });
  }
}

/** Bounds, as shares, in which the true chance lies with 95 % certainty after so many shows (Wilson 1927). */
export function chanceBetween(held: number, shows: number): [number, number] {
  if (shows === 0) return [0, 1];
  const z = 1.96;
  const p = held / shows;
  const middle = p + z ** 2 / (2 * shows);
  const half = z * Math.sqrt((p * (1 - p)) / shows + z ** 2 / (4 * shows ** 2));
  const whole = 1 + z ** 2 / shows;
  return [Math.max(0, (middle - half) / whole), Math.min(1, (middle + half) / whole)];
}
