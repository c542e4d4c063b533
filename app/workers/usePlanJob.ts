import { useEffect, useRef, useState } from "react";
import type { ApiError } from "../data/api";
import type { PlanJob, PlanSaid } from "./planJob";
import { runPlan } from "./runPlan";

interface Going<T> {
  /** The job's key, so that what was found is not taken for an answer to another question. */
  key: string;
  share: number;
  found: T | null;
  error: ApiError | null;
}

/** A job that is done for as long as it is asked for; a changed one is begun anew. null: nothing is asked. */
export function usePlanJob<K extends Exclude<PlanSaid["kind"], "progress">>(
  kind: K,
  job: (PlanJob & { kind: K }) | null,
): { share: number | null; found: (PlanSaid & { kind: K }) | null; error: ApiError | null } {
  const [going, setGoing] = useState<Going<PlanSaid & { kind: K }> | null>(null);
  const key = job ? JSON.stringify(job) : null;
  const asked = useRef(key);
  asked.current = key;
  useEffect(() => {
    if (key === null) return;
    const begun = { key, share: 0, found: null, error: null };
    setGoing(begun);
    return runPlan(JSON.parse(key) as PlanJob, (heard) => {
      if (asked.current !== key) return;
      if (heard.kind === "failed") setGoing({ ...begun, error: heard.error });
      else if (heard.kind === "progress") setGoing({ ...begun, share: heard.share });
      else if (heard.kind === kind) setGoing({ ...begun, share: 1, found: heard as PlanSaid & { kind: K } });
    });
  }, [key, kind]);
  if (key === null || going?.key !== key) return { share: key === null ? null : 0, found: null, error: null };
  const { share, found, error } = going;
  return { share: found || error ? null : share, found, error };
}
