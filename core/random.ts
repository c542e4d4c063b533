/** A source of numbers in [0, 1) that repeats exactly for the same seed. */
export type Random = () => number;

/** A small seeded generator (32-bit mixing counter, period 2^32); good enough for stand-ins, never for secrets. */
export function seeded(seed: number): Random {
  let counter = seed >>> 0;
  return () => {
    counter = (counter + 0x6d2b79f5) >>> 0;
    let mixed = counter;
    mixed = Math.imul(mixed ^ (mixed >>> 15), mixed | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
}

/** One draw from the normal distribution with mean 0 and deviation 1 (Box–Muller). */
export function normal(random: Random): number {
  const radius = Math.sqrt(-2 * Math.log(1 - random()));
  return radius * Math.cos(2 * Math.PI * random());
}

/** The same, two at a time: each pair of numbers gives two draws. */
export function normals(random: Random): Random {
  let spare: number | null = null;
  return () => {
    if (spare !== null) {
      const kept = spare;
      spare = null;
      return kept;
    }
    const radius = Math.sqrt(-2 * Math.log(1 - random()));
    const angle = 2 * Math.PI * random();
    spare = radius * Math.sin(angle);
    return radius * Math.cos(angle);
  };
}
