/** Values from the least to the greatest, ready to be asked for several quantiles. */
export const inOrder = (values: readonly number[]): Float64Array => Float64Array.from(values).sort();

/** The q-quantile (0 to 1) by nearest rank: the ceil(q·n)-th smallest. Empty input gives null. */
export function quantile(values: readonly number[], q: number): number | null {
  return quantileOf(inOrder(values), q);
}

/** The same of values that are in order already. */
export function quantileOf(sorted: Float64Array, q: number): number | null {
  if (sorted.length === 0) return null;
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
