import { useEffect, useRef, useState } from "react";
import type { PlanJob, PlanSaid } from "./planJob";
import { runPlan } from "./runPlan";

interface Going<T> {
  /** The job's key, so that what was found is not taken for an answer to another question. */
  key: string;
  share: number;
  found: T | null;
}

/** A job that is done for as long as it is asked for; a changed one is begun anew. null: nothing is asked. */
export function usePlanJob<K extends Exclude<PlanSaid["kind"], "progress">>(
  kind: K,
  job: (PlanJob & { kind: K }) | null,
): { share: number | null; found: (PlanSaid & { kind: K }) | null } {
  const [going, setGoing] = useState<Going<PlanSaid & { kind: K }> | null>(null);
  const key = job ? JSON.stringify(job) : null;
  const asked = useRef(key);
  asked.current = key;
  useEffect(() => {
    if (key === null) return;
    setGoing({ key, share: 0, found: null });
    return runPlan(JSON.parse(key) as PlanJob, (said) => {
      if (asked.current !== key) return;
      if (said.kind === "progress") setGoing({ key, share: said.share, found: null });
      else if (said.kind === kind) setGoing({ key, share: 1, found: said as PlanSaid & { kind: K } });
    });
  }, [key, kind]);
  if (key === null || going?.key !== key) return { share: key === null ? null : 0, found: null };
  return { share: going.found ? null : going.share, found: going.found };
}
