import type { WholePlan } from "@ukaza/contract/fitPlan";
import { healthRules } from "../air/healthRules";
import { BLOCK_S, Evening } from "./evening";
import type { ForecastLine } from "./forecastLine";

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

  /** All is well, and was for long enough that nothing is remembered of what was before. */
  get settled(): boolean {
    return this.whole > windowS && this.health === STEADY;
  }

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

  /** Asks its lines for each second of the block. */
  series(): void {
    for (const { evening } of this.lines) evening.series();
  }

  /** Whether nothing can happen in a block that begins now: every line carries its load throughout, and all is well. */
  get safe(): boolean {
    for (let i = 0; i < this.lines.length; i++) {
      const { evening, loadBps, judge } = this.lines[i] as (typeof this.lines)[number];
      if (evening.leastBps < loadBps || !judge.settled) return false;
    }
    return true;
  }

  /** Second `s` of the show, at `at` in its block; gives the main line that is the first to be in trouble, when it comes. */
  second(s: number, at: number): { line: string; kind: "outage" | "sag" } | null {
    let troubled: (typeof this.lines)[number] | null = null;
    for (let i = 0; i < this.lines.length; i++) {
      const line = this.lines[i] as (typeof this.lines)[number];
      const health = line.judge.take(Math.min(1, (line.evening.capacityBps[at] as number) / line.loadBps));
      if (line.isMain && health !== STEADY) troubled ??= line;
    }
    let steady = true;
    for (let i = 0; i < this.watching.length; i++) if (!(this.watching[i] as Watching).second(s)) steady = false;
    if (!steady) this.switched++;
    if (!troubled) return null;
    this.alone++;
    return this.alone === 1 ? { line: troubled.id, kind: troubled.evening.out[at] === 1 ? "outage" : "sag" } : null;
  }
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
    const evenings = new Map(lines.map((line, i) => [line.id, new Evening(line, seed + number * 7919 + i * 104_729)]));
    const running = plans.map((plan) => new Running(evenings, plan, failover));
    const all = [...evenings.values()];
    for (let from = 0; from < seconds; from += BLOCK_S) {
      for (let i = 0; i < all.length; i++) (all[i] as Evening).next();
      for (let i = 0; i < running.length; i++) this.block(i, running[i] as Running, from, Math.min(BLOCK_S, seconds - from));
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

  private block(plan: number, run: Running, from: number, seconds: number): void {
    if (run.safe) return;
    run.series();
    for (let at = 0; at < seconds; at++) {
      const trouble = run.second(from + at, at);
      if (trouble) this.note(plan, trouble);
    }
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
