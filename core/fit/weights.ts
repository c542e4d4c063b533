/** Weights (models, section 5: 1 to 5) of so many destinations in the order of what they matter: even steps from 5 down to 1. */
export const weightsByOrder = (count: number): number[] =>
  Array.from({ length: count }, (_, i) => (count === 1 ? 3 : Math.round(5 - (4 * i) / (count - 1))));
