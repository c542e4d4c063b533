/** The q-quantile (0 to 1) by nearest rank: the ceil(q·n)-th smallest. Empty input gives null. */
export function quantile(values: readonly number[], q: number): number | null {
  if (values.length === 0) return null;
  const sorted = [...values].sort((a, b) => a - b);
  const rank = Math.min(sorted.length, Math.max(1, Math.ceil(q * sorted.length)));
  return sorted[rank - 1] ?? null;
}

export function median(values: readonly number[]): number | null {
  return quantile(values, 0.5);
}

/** The arithmetic mean; null for no values. */
export function mean(values: readonly number[]): number | null {
  return values.length === 0 ? null : values.reduce((sum, v) => sum + v, 0) / values.length;
}
