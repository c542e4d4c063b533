import { normal, type Random } from "../random";

/**
 * The stand-in line: an uplink's capacity second by second. Every rate is bit/s at the IP layer.
 * A slow daily curve, a crowd at show time, an AR(1) term, outages as a two-state Markov chain, and
 * loss by Gilbert–Elliott (Gilbert 1960, Elliott 1963).
 */
export interface LineModel {
  meanBps: number;
  /** Depth of the daily curve as a share of the mean, and the minute of day of its height. */
  daily: { share: number; bestMinute: number };
  /** What the crowd takes at its fullest, as a share; it fills and empties over the given minutes of day. */
  crowd: { share: number; fromMinute: number; fullMinute: number; untilMinute: number };
  /** AR(1) of the capacity's share: x' = rho·x + sigma·noise. */
  wander: { rho: number; sigma: number };
  outage: { perSecond: number; endsPerSecond: number; leftShare: number };
  loss: { toBad: number; toGood: number; good: number; bad: number };
  rttMs: number;
}

export interface LineState {
  wander: number;
  out: boolean;
  lossy: boolean;
}

export interface LineSecond {
  capacityBps: number;
  lossRatio: number;
  rttMs: number;
  out: boolean;
}

export const lineAtRest: LineState = { wander: 0, out: false, lossy: false };

/** Share of the capacity that the crowd takes at a minute of day; zero before, full between, falling after. */
export function crowdShare(crowd: LineModel["crowd"], minuteOfDay: number): number {
  const { share, fromMinute, fullMinute, untilMinute } = crowd;
  if (minuteOfDay <= fromMinute || minuteOfDay >= untilMinute) return 0;
  if (minuteOfDay < fullMinute) return (share * (minuteOfDay - fromMinute)) / (fullMinute - fromMinute);
  const emptiesOver = Math.max(1, (untilMinute - fullMinute) / 3);
  const toEnd = untilMinute - minuteOfDay;
  return toEnd >= emptiesOver ? share : (share * toEnd) / emptiesOver;
}

/** Moves a line's state on by one second in place and gives its capacity, bit/s; `noise` is normal. For sums over millions of seconds. */
export function advance(model: LineModel, state: LineState, minuteOfDay: number, random: Random, noise = normal(random)): number {
  state.wander = model.wander.rho * state.wander + model.wander.sigma * noise;
  state.out = state.out ? random() >= model.outage.endsPerSecond : random() < model.outage.perSecond;
  state.lossy = state.lossy ? random() >= model.loss.toGood : model.loss.toBad > 0 && random() < model.loss.toBad;
  const { share, bestMinute } = model.daily;
  const daily = share === 0 ? 1 : 1 + share * Math.cos(((minuteOfDay - bestMinute) / 1440) * 2 * Math.PI);
  const free = daily * (1 - crowdShare(model.crowd, minuteOfDay)) * Math.max(0.05, 1 + state.wander);
  return Math.round(model.meanBps * free * (state.out ? model.outage.leftShare : 1));
}

/** One more second of the line. Same model, state, minute and random numbers: same answer. */
export function lineStep(
  model: LineModel,
  state: LineState,
  minuteOfDay: number,
  random: Random,
): { state: LineState; second: LineSecond } {
  const next = { ...state };
  const capacityBps = advance(model, next, minuteOfDay, random);
  return {
    state: next,
    second: {
      capacityBps,
      lossRatio: next.lossy ? model.loss.bad : model.loss.good,
      rttMs: model.rttMs * (next.lossy ? 1.4 : 1),
      out: next.out,
    },
  };
}

/**
 * A line's capacity shared among the feeds that want it: nobody gets more than they ask, and what one leaves
 * goes to the others in equal parts (max–min fairness). Bits in, bits out, in the order given.
 */
export function shareCapacity(capacityBits: number, wantedBits: readonly number[]): number[] {
  const order = wantedBits.map((want, index) => ({ want, index })).sort((a, b) => a.want - b.want);
  const given = new Array<number>(wantedBits.length).fill(0);
  let left = Math.max(0, capacityBits);
  order.forEach(({ want, index }, position) => {
    const part = Math.min(want, left / (order.length - position));
    given[index] = part;
    left -= part;
  });
  return given;
}
