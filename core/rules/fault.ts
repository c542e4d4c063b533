import type { Finding } from "@ukaza/contract/findings";
import type { SettingsPatch } from "@ukaza/contract/settings";

/** A finding whose mend is not worked out yet: most of those who look only ask what is wrong. */
export interface Fault extends Omit<Finding, "mend"> {
  mend: (() => SettingsPatch | null) | null;
}

/** Finds faults of one kind of rule: where they stand and what they are. */
export type Say = (
  code: string,
  level: Fault["level"],
  field: Fault["field"],
  is: Fault["is"],
  wanted: Fault["wanted"],
  clause: string,
  mend?: Fault["mend"],
) => void;

/** A list of faults and the function that adds to it, for rules that stand with `by`. */
export function faultsBy(by: Fault["rule"]["by"]): { faults: Fault[]; say: Say } {
  const faults: Fault[] = [];
  const say: Say = (code, level, field, is, wanted, clause, mend = null) =>
    void faults.push({ code, level, field, is, wanted, rule: { by, clause }, mend });
  return { faults, say };
}
