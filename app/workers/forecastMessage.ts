import type { ForecastQuestion, ForecastResult } from "@ukaza/core/fit/forecast";

/** What the page asks of the forecast worker: so many shows. */
export interface ForecastAsked {
  question: ForecastQuestion;
  shows: number;
}

/** How far it is, with the results so far; done when all shows are. */
export interface ForecastSaid {
  done: number;
  results: ForecastResult[];
}

/** Shows between two words to the page: some tenths of a second. */
export const SHOWS_AT_ONCE = 20;
