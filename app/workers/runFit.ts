import type { FitAnswer, FitProblem } from "@ukaza/contract/fit";
import { fitOne } from "@ukaza/core/fit/fitOne";

/** Without web workers the sum is done at once. */
export const runFit = async (problem: FitProblem): Promise<FitAnswer> => fitOne(problem);
