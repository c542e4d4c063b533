/**
 * P[Binomial(n, p) ≥ k], summed from the lower tail in logarithms so that large n does not underflow.
 */
export function binomialAtLeast(n: number, p: number, k: number): number {
  if (k <= 0) return 1;
  if (k > n) return 0;
  const odds = Math.log(p) - Math.log1p(-p);
  let logTerm = n * Math.log1p(-p);
  let below = 0;
  for (let i = 0; i < k; i++) {
    below += Math.exp(logTerm);
    logTerm += Math.log((n - i) / (i + 1)) + odds;
  }
  return Math.max(0, 1 - below);
}

/**
 * The rank k whose k-th smallest of n values bounds the p-quantile from below with the given confidence:
 * the largest k with P[Binomial(n, p) ≥ k] ≥ confidence (distribution-free one-sided interval for a quantile).
 * 0: n is too small for any. For p = 0.1 and 95 % the least n is 29.
 */
export function lowerBoundRank(n: number, p = 0.1, confidence = 0.95): number {
  const odds = Math.log(p) - Math.log1p(-p);
  let logTerm = n * Math.log1p(-p);
  let below = 0;
  let rank = 0;
  for (let k = 1; k <= n; k++) {
    below += Math.exp(logTerm);
    if (1 - below < confidence) break;
    rank = k;
    logTerm += Math.log((n - k + 1) / k) + odds;
  }
  return rank;
}
