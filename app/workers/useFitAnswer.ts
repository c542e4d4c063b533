import type { FitAnswer, FitProblem } from "@ukaza/contract/fit";
import { useEffect, useState } from "react";
import { runFit } from "./runFit";

/** The answer to a problem, worked out anew whenever it changes; until then the last one stands. null: there is none yet. */
export function useFitAnswer(problem: FitProblem | null): FitAnswer | null {
  const [answer, setAnswer] = useState<FitAnswer | null>(null);
  const key = JSON.stringify(problem);
  useEffect(() => {
    let current = true;
    // Compared by what it holds: each reading of the server makes a new object.
    const asked = JSON.parse(key) as FitProblem | null;
    if (!asked) setAnswer(null);
    else void runFit(asked).then((found) => current && setAnswer(found));
    return () => {
      current = false;
    };
  }, [key]);
  return answer;
}
