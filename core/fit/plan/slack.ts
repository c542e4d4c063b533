/** Slack for sums of products of points; far below one point. */
export const EPSILON = 0.01;
/** What cannot be is worth. */
export const NOTHING = Number.NEGATIVE_INFINITY;
