import type { BondedResult, Sustainable } from "@ukaza/contract/survey";

/** What bonding costs of the members' sum (rule of thumb). */
export const BONDING_COST = 0.05;

/** Rate of a bonded group, bit/s, and what is left when its strongest member is gone. */
export function bondedRate(memberBps: readonly number[]): { togetherBps: number; withoutStrongestBps: number } {
  const sum = memberBps.reduce((total, rate) => total + rate, 0);
  const strongest = memberBps.length > 0 ? Math.max(...memberBps) : 0;
  return {
    togetherBps: Math.floor(sum * (1 - BONDING_COST)),
    withoutStrongestBps: Math.floor((sum - strongest) * (1 - BONDING_COST)),
  };
}

export interface Member {
  id: string;
  name: string;
  result: Sustainable;
}

/** A bonded group seen through its members. Unknown while one of them is. */
export function bondedOf(members: readonly Member[]): BondedResult {
  const rates = members.map((m) => ({ id: m.id, name: m.name, sustainableBps: m.result.sustainableBps }));
  const known = rates.flatMap((m) => (m.sustainableBps === null ? [] : [m.sustainableBps]));
  if (members.length === 0 || known.length < members.length)
    return { members: rates, togetherBps: null, withoutStrongestBps: null, strongest: null };
  const strongest = rates.reduce((best, m) => ((m.sustainableBps ?? 0) > (best.sustainableBps ?? 0) ? m : best));
  return { members: rates, ...bondedRate(known), strongest: strongest.name };
}

/**
 * The verdict on a bonded group: from tests of the whole group if there are any, since they hold what bonding really
 * costs; else from its members, with the reserve of the least certain one.
 */
export function bondedVerdict(own: Sustainable, bonded: BondedResult, members: readonly Member[]): Sustainable {
  if (own.evidence !== "none" || bonded.togetherBps === null) return own;
  const weakest = members.reduce((a, b) => (b.result.ruleReserve > a.result.ruleReserve ? b : a)).result;
  const overridden = own.reserve !== own.ruleReserve;
  const reserve = overridden ? own.reserve : weakest.ruleReserve;
  return {
    ...own,
    basis: "members",
    evidence: weakest.evidence,
    ruleReserve: weakest.ruleReserve,
    reserve,
    sustainableBps: bonded.togetherBps,
    usableBps: Math.floor(bonded.togetherBps * (1 - reserve)),
    next: null,
  };
}
