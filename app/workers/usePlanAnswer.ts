import type { FitProblem } from "@ukaza/contract/fit";
import type { AnswerByHand } from "@ukaza/core/fit/byHand";
import { useEffect, useRef, useState } from "react";
import type { ApiError } from "../data/api";
import { runPlan } from "./runPlan";

/** An answer with the problem that it answers. */
export interface Answered extends AnswerByHand {
  problem: FitProblem;
}

/**
 * The answer to a problem, worked out anew whenever it changes. Until then the last one stands; while one is worked out only
 * the newest of those that wait is kept. `error`: why there is none to the last that was asked.
 */
export function usePlanAnswer(problem: FitProblem | null): { answered: Answered | null; busy: boolean; error: ApiError | null } {
  const [answered, setAnswered] = useState<Answered | null>(null);
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<ApiError | null>(null);
  const waiting = useRef<string | null>(null);
  const running = useRef(false);
  const gone = useRef(false);
  // Compared by what it holds: each reading of the server makes a new object.
  const key = problem ? JSON.stringify(problem) : null;
  useEffect(() => {
    gone.current = false;
    const next = () => {
      const asked = waiting.current;
      if (asked === null || gone.current) {
        running.current = false;
        setBusy(false);
        return;
      }
      waiting.current = null;
      running.current = true;
      setBusy(true);
      const own = JSON.parse(asked) as FitProblem;
      runPlan({ kind: "answer", problem: own }, (heard) => {
        if (heard.kind !== "answer" && heard.kind !== "failed") return;
        if (!gone.current) {
          if (heard.kind === "answer") setAnswered({ ...heard.found, problem: own });
          setError(heard.kind === "failed" ? heard.error : null);
        }
        next();
      });
    };
    waiting.current = key;
    if (!running.current) next();
  }, [key]);
  useEffect(
    () => () => {
      gone.current = true;
    },
    [],
  );
  return { answered, busy, error };
}
