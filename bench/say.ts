/** One line of the bench: what was measured, beside its budget and a reference from the same run. Nothing is asserted. */
export const line = (what: string, value: string, budget: string, reference = "") =>
  console.log(`${what.padEnd(46)} ${value.padStart(12)}   budget ${budget.padEnd(10)} ${reference}`);

export function median(values: number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 2)] ?? Number.NaN;
}

export function timed(work: () => unknown, runs: number): number {
  const times: number[] = [];
  for (let i = 0; i < runs; i++) {
    const start = performance.now();
    work();
    times.push(performance.now() - start);
  }
  return median(times);
}
