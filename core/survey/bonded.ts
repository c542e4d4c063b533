/** What bonding costs of the members' sum (rule of thumb). */
const BONDING_COST = 0.05;

/** Rate of a bonded group, bit/s, and what is left when its strongest member is gone. */
export function bondedRate(memberBps: readonly number[]): { togetherBps: number; withoutStrongestBps: number } {
  const sum = memberBps.reduce((total, rate) => total + rate, 0);
  const strongest = memberBps.length > 0 ? Math.max(...memberBps) : 0;
  return {
    togetherBps: Math.floor(sum * (1 - BONDING_COST)),
    withoutStrongestBps: Math.floor((sum - strongest) * (1 - BONDING_COST)),
  };
}
