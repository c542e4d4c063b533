import type { Choice, Stand } from "./choices";
import type { Makes } from "./makes";
import { type Racks, settingsKey } from "./packing";
import { complements, sumsOf } from "./sets";
import { NOTHING } from "./slack";

/** Destinations that could share an engine, and what they would give for it together. */
interface Crew {
  set: number;
  /** Other halves of its members: they come from another encoder. */
  twins: number;
  engines: number;
  lumaPerS: number;
  feeds: number;
  worth: number;
  /** By settings of that luma: who is told them, and what that is worth. */
  kinds: { hands: readonly Hand[]; worth: number }[];
  /** The most that everything comes to with it. */
  most: number;
}

/** A destination on one encoder; one with its backup from another has two of these, each with half of what it gives up. */
interface Post {
  stand: Stand;
  bit: number;
  halves: 1 | 2;
  /** The bit of its other half; 0: there is none. */
  twin: number;
}

/** A post told one choice. */
interface Hand {
  post: Post;
  choice: Choice;
  feeds: number;
  worth: number;
}

/** More ways than this to man one encoder are not gone through, nor sets of more posts. */
const MOST_STEPS = 60_000;
const MOST_POSTS = 12;

/** What choices come to on the encoders' side, where each is worth what it gives up for an engine. */
export interface EnginesSide {
  /** The most that all come to. */
  best: number;
  /** The most that all come to with a choice, and with a stand left out. */
  most: ReadonlyMap<Choice, number>;
  outs: readonly number[];
}

/**
 * The best that encoders come to, exactly: what each set of destinations comes to on each encoder, by all ways to share its
 * engines, and from that the best partition. null: there are too many ways to look at each.
 */
export function enginesSide(stands: readonly Stand[], racks: Racks, makes: Makes): EnginesSide | null {
  const posts = postsOf(stands);
  if (posts.length > MOST_POSTS) return null;
  const full = (1 << posts.length) - 1;
  const crews: Crew[][] = [];
  const lists: Float64Array[] = [];
  for (let e = 0; e < racks.engines.length; e++) {
    const own = crewsOn(e, posts, racks, makes);
    const list = new Float64Array(full + 1).fill(NOTHING);
    const all =
      own &&
      eachManning(own, e, racks, (set, worth) => {
        if (worth > (list[set] as number)) list[set] = worth;
      });
    if (!own || !all) return null;
    crews.push(own);
    lists.push(list);
  }
  const idle = sumsOf(posts, ({ stand, halves }) => (stand.out === NOTHING ? NOTHING : stand.outGives / halves));
  lists.push(idle);
  const { best, others } = complements(lists);
  const busy = others[others.length - 1] as Float64Array;
  crews.forEach((own, e) => {
    const rest = others[e] as Float64Array;
    eachManning(own, e, racks, (set, worth, running) => {
      const total = worth + (rest[full & ~set] as number);
      for (const crew of running) if (total > crew.most) crew.most = total;
    });
  });
  const outOf = (bit: number) => {
    let most = NOTHING;
    for (let s = 0; s <= full; s++) if (s & bit) most = Math.max(most, (idle[s] as number) + (busy[full & ~s] as number));
    return most;
  };
  const outs = stands.map((stand) => Math.min(...posts.filter((post) => post.stand === stand).map((post) => outOf(post.bit))));
  return { best, most: mostOf(crews), outs };
}

function postsOf(stands: readonly Stand[]): Post[] {
  let bit = 1;
  return stands.flatMap((stand): Post[] => {
    const halves = stand.choices.some((c) => c.encoders.some((at) => at.length > 1)) ? 2 : 1;
    const own = bit;
    bit <<= halves;
    if (halves === 1) return [{ stand, bit: own, halves, twin: 0 }];
    return [
      { stand, bit: own, halves, twin: own << 1 },
      { stand, bit: own << 1, halves, twin: own },
    ];
  });
}

/** The most with each choice, from that of the crews it is in; of two halves the lesser. */
function mostOf(crews: readonly Crew[][]): Map<Choice, number> {
  const byHalf = [new Map<Choice, number>(), new Map<Choice, number>()] as const;
  const halved = new Set<Choice>();
  for (const own of crews)
    for (const crew of own)
      for (const { hands, worth } of crew.kinds)
        for (const { choice, post } of hands) {
          const most = byHalf[post.twin > post.bit ? 1 : 0];
          if (post.halves === 2) halved.add(choice);
          most.set(choice, Math.max(most.get(choice) ?? NOTHING, crew.most - crew.worth + worth));
        }
  for (const choice of halved) byHalf[0].set(choice, Math.min(byHalf[0].get(choice) ?? NOTHING, byHalf[1].get(choice) ?? NOTHING));
  return byHalf[0];
}

/** Everybody who could share an engine of an encoder; null: there are too many. */
function crewsOn(e: number, posts: readonly Post[], racks: Racks, makes: Makes): Crew[] | null {
  const byKey = new Map<string, Hand[]>();
  for (const post of posts) {
    const { taker, choices } = post.stand;
    for (const choice of choices) {
      if (!choice.encoders.some((at) => at.includes(e))) continue;
      const key = settingsKey({ taker, choice });
      const feeds = (taker.given.backup && post.halves === 1 ? 2 : 1) * choice.engines;
      const hand = { post, choice, feeds, worth: choice.gives.least / post.halves };
      const own = byKey.get(key);
      if (own) own.push(hand);
      else byKey.set(key, [hand]);
    }
  }
  const crews = new Map<string, Crew>();
  let steps = 0;
  const gather = (hands: readonly Hand[], from: number, crew: readonly Hand[]): void => {
    for (let i = from; i < hands.length && steps <= MOST_STEPS; i++) {
      const hand = hands[i] as Hand;
      if (crew.some((h) => h.post.stand === hand.post.stand)) continue;
      const all = [...crew, hand];
      steps++;
      const feeds = all.reduce((sum, h) => sum + h.feeds, 0);
      if (feeds > (racks.feeds[e] as number) || !together(all, e, makes)) continue;
      addCrew(crews, all, feeds);
      if (!hand.post.stand.taker.ladder) gather(hands, i + 1, all);
    }
  };
  for (const hands of byKey.values()) gather(hands, 0, []);
  if (steps > MOST_STEPS) return null;
  return [...crews.values()]
    .filter((c) => c.engines <= (racks.engines[e] as number) && c.lumaPerS <= (racks.lumaPerS[e] as number))
    .sort((a, b) => lowest(a.set) - lowest(b.set));
}

function together(hands: readonly Hand[], e: number, makes: Makes): boolean {
  if (hands.length === 1) return true;
  const [first] = hands as [Hand];
  const terms = hands.map((h) => h.choice.terms).sort((a, b) => a.id - b.id);
  return makes.of(terms, [e]).some((make) => make.engines === 1 && make.bps.includes(first.choice.bps));
}

function addCrew(crews: Map<string, Crew>, hands: readonly Hand[], feeds: number): void {
  const set = hands.reduce((bits, h) => bits | h.post.bit, 0);
  const twins = hands.reduce((bits, h) => bits | h.post.twin, 0);
  const worth = hands.reduce((sum, h) => sum + h.worth, 0);
  const { engines, lumaPerS } = (hands[0] as Hand).choice;
  const key = `${set} ${engines} ${lumaPerS}`;
  const known = crews.get(key);
  if (known) {
    known.kinds.push({ hands, worth });
    known.worth = Math.max(known.worth, worth);
  } else crews.set(key, { set, twins, engines, lumaPerS, feeds, worth, kinds: [{ hands, worth }], most: NOTHING });
}

const lowest = (set: number) => set & -set;

/** Tells of every set of crews that an encoder can run at once; false: there are too many. */
function eachManning(
  crews: readonly Crew[],
  e: number,
  racks: Racks,
  tell: (set: number, worth: number, running: readonly Crew[]) => void,
): boolean {
  const running: Crew[] = [];
  let steps = 0;
  const visit = (from: number, set: number, engines: number, luma: number, feeds: number, worth: number): void => {
    tell(set, worth, running);
    for (let i = from; i < crews.length; i++) {
      const crew = crews[i] as Crew;
      if (set & (crew.set | crew.twins) || crew.engines > engines || crew.lumaPerS > luma || crew.feeds > feeds) continue;
      // Each set of crews once: in the order of their first members.
      if (running.length > 0 && lowest((running[running.length - 1] as Crew).set) >= lowest(crew.set)) continue;
      if (++steps > MOST_STEPS) return;
      running.push(crew);
      visit(i + 1, set | crew.set, engines - crew.engines, luma - crew.lumaPerS, feeds - crew.feeds, worth + crew.worth);
      running.pop();
    }
  };
  visit(0, 0, racks.engines[e] as number, racks.lumaPerS[e] as number, racks.feeds[e] as number, 0);
  return steps <= MOST_STEPS;
}
