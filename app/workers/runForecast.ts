import { Forecast } from "@ukaza/core/fit/forecast";
import type { ApiError } from "../data/api";
import { brokeDown } from "./brokeDown";
import { type ForecastAsked, type ForecastSaid, SHOWS_AT_ONCE } from "./forecastMessage";

/** Without web workers the shows are run here, some at a time. Gives a way to stop it. */
export function runForecast(
  { question, shows }: ForecastAsked,
  onSaid: (said: ForecastSaid) => void,
  onFailed: (error: ApiError) => void,
): () => void {
  const forecast = new Forecast(question);
  let done = 0;
  let timer: ReturnType<typeof setTimeout>;
  const some = () => {
    const count = Math.min(SHOWS_AT_ONCE, shows - done);
    try {
      const results = forecast.run(count);
      done += count;
      onSaid({ done, results });
    } catch (failure) {
      return onFailed(brokeDown(String(failure)));
    }
    if (done < shows) timer = setTimeout(some);
  };
  timer = setTimeout(some);
  return () => clearTimeout(timer);
}
