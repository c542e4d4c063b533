import { normal, normals, type Random, seeded } from "../random";
import { BONDING_COST } from "../survey/bonded";
import type { ForecastLine, ForecastPart } from "./forecastLine";

/** Seconds that are looked at together: where the line is far above all loads, nobody asks for each of them. */
export const BLOCK_S = 16;
/** Deviations of the wander between a block's ends that count as never seen: one block in a thousand million. */
const NEVER = 6;

/** How an AR(1) term moves over a whole block, and second by second between the block's known ends (conditional normal). */
interface Wander {
  rho: number;
  sigma: number;
  /** The most that it deviates between the ends, as a share of the level. */
  between: number;
  /** By seconds left to the end: the next value is own·x + end·x(end) + spread·noise. */
  own: Float64Array;
  end: Float64Array;
  spread: Float64Array;
}

function wanderOf({ rho, sigma }: ForecastPart["wander"]): Wander {
  const varianceOver = (seconds: number) => {
    let sum = 0;
    for (let i = 0; i < seconds; i++) sum += sigma ** 2 * rho ** (2 * i);
    return sum;
  };
  const [own, end, spread] = [new Float64Array(BLOCK_S + 1), new Float64Array(BLOCK_S + 1), new Float64Array(BLOCK_S + 1)];
  for (let left = 2; left <= BLOCK_S; left++) {
    // What is known of the next second from this one, and from the end (product of two normals).
    const pull = rho ** (left - 1);
    const rest = varianceOver(left - 1);
    const weight = sigma === 0 ? 0 : (sigma ** 2 * pull) / (rest + sigma ** 2 * pull ** 2);
    own[left] = rho * (1 - weight * pull);
    end[left] = weight;
    spread[left] = sigma * Math.sqrt(Math.max(0, 1 - weight * pull));
  }
  // Between known ends an AR(1) term strays no further than a bare random walk would.
  return {
    rho: rho ** BLOCK_S,
    sigma: Math.sqrt(varianceOver(BLOCK_S)),
    between: (NEVER * sigma * Math.sqrt(BLOCK_S)) / 2,
    own,
    end,
    spread,
  };
}

/** One way out on one evening. */
class Part {
  private readonly levelBps: number;
  private readonly random: Random;
  private readonly noise: Random;
  private readonly chances: Random;
  private readonly wander: Wander;
  private from = 0;
  private to = 0;
  private out = false;
  /** Second of the show at which it next breaks off or comes back. */
  private changes: number;
  /** Changes in this block, as seconds of the show. */
  private readonly spans: { fromS: number; out: boolean }[] = [];
  private block = -1;

  constructor(
    private readonly part: ForecastPart,
    wander: Wander,
    private readonly seed: number,
  ) {
    this.random = seeded(seed);
    this.levelBps = levelOf(part, this.random);
    this.noise = normals(this.random);
    this.chances = seeded(seed + 1_299_709);
    this.wander = wander;
    this.changes = this.waits(part.outage.perSecond) - 1;
  }

  /** Moves on by a block; gives the least it may carry in it, bit/s. */
  next(): number {
    this.block++;
    this.from = this.to;
    this.to = this.wander.rho * this.from + this.wander.sigma * this.noise();
    const began = this.block * BLOCK_S;
    this.spans.length = 0;
    this.spans.push({ fromS: began, out: this.out });
    while (this.changes < began + BLOCK_S) {
      this.out = !this.out;
      this.spans.push({ fromS: this.changes, out: this.out });
      const { endsPerSecond, perSecond } = this.part.outage;
      this.changes += this.waits(this.out ? endsPerSecond : perSecond);
    }
    const free = Math.max(0.05, 1 + Math.min(this.from, this.to) - this.wander.between);
    const left = this.spans.some((span) => span.out) ? Math.min(1, this.part.outage.leftShare) : 1;
    return Math.floor(this.levelBps * free * left);
  }

  /** Adds what it carries in each second of the block; `out` says where it is broken off. */
  addTo(capacityBps: Float64Array, out: Uint8Array): void {
    const { own, end, spread } = this.wander;
    // Numbers of its own for each block: whether anybody asks for the seconds changes nothing that comes later.
    const noise = normals(seeded(this.seed + 15_485_863 + this.block * 32_452_843));
    let wander = this.from;
    let span = 0;
    for (let i = 0; i < BLOCK_S; i++) {
      const left = BLOCK_S - i;
      wander = left === 1 ? this.to : (own[left] as number) * wander + (end[left] as number) * this.to + (spread[left] as number) * noise();
      while (span + 1 < this.spans.length && (this.spans[span + 1]?.fromS as number) <= this.block * BLOCK_S + i) span++;
      const broken = this.spans[span]?.out === true;
      if (broken) out[i] = 1;
      const share = Math.max(0.05, 1 + wander) * (broken ? this.part.outage.leftShare : 1);
      capacityBps[i] = (capacityBps[i] as number) + Math.round(this.levelBps * share);
    }
  }

  /** Seconds until something happens that has this chance in each. */
  private waits(perSecond: number): number {
    if (perSecond <= 0) return Number.POSITIVE_INFINITY;
    if (perSecond >= 1) return 1;
    return 1 + Math.floor(Math.log(1 - this.chances()) / Math.log(1 - perSecond));
  }
}

/** A line on one evening: the stand-in line's model (models, section 9) in blocks of seconds. */
export class Evening {
  /** By second of the block, once `series` was asked for. */
  readonly capacityBps = new Float64Array(BLOCK_S);
  readonly out = new Uint8Array(BLOCK_S);
  /** The line carries no less than this in any second of the block. */
  leastBps = 0;
  private readonly parts: Part[];
  private known = false;

  constructor(line: ForecastLine, seed: number) {
    this.parts = line.parts.map((part, i) => new Part(part, wanderFor(part), seed + i * 49_979_687));
  }

  /** Moves on by a block. */
  next(): void {
    let least = 0;
    for (let i = 0; i < this.parts.length; i++) least += (this.parts[i] as Part).next();
    this.leastBps = this.bonded(least);
    this.known = false;
  }

  /** Works the block out second by second. */
  series(): void {
    if (this.known) return;
    this.known = true;
    this.capacityBps.fill(0);
    this.out.fill(0);
    for (const part of this.parts) part.addTo(this.capacityBps, this.out);
    if (this.parts.length > 1) for (let i = 0; i < BLOCK_S; i++) this.capacityBps[i] = this.bonded(this.capacityBps[i] as number);
  }

  private bonded(bps: number): number {
    return this.parts.length > 1 ? bps * (1 - BONDING_COST) : bps;
  }
}

const wanders = new WeakMap<ForecastPart["wander"], Wander>();

/** The same for every evening of a part. */
function wanderFor({ wander }: ForecastPart): Wander {
  let known = wanders.get(wander);
  if (!known) {
    known = wanderOf(wander);
    wanders.set(wander, known);
  }
  return known;
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
