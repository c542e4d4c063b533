import type { FitAnswer, FitProblem } from "@ukaza/contract/fit";

/** A question to the fit worker and its answer, told apart by number since the worker may be asked again meanwhile. */
export interface FitQuestion {
  number: number;
  problem: FitProblem;
}

export interface FitReply {
  number: number;
  answer: FitAnswer;
}
