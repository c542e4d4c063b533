/** Rules of thumb of the survey model; each is shown where it matters. */
export const surveyRules = {
  /** How far from the show a test's time of day may lie to count as near it. */
  windowMin: 90,
  leastInWindow: 5,
  leastSameKind: 5,
  leastForInterval: 29,
  reserveInterval: 0.2,
  reserveMinimum: 0.35,
  reserveFew: 0.5,
  agedDays: 45,
  /** Modified z-score over which a test is an outlier among those of its hour (Iglewicz and Hoaglin 1993). */
  outlierScore: 3.5,
} as const;
