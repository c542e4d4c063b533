import { Forecast } from "@ukaza/core/fit/forecast";
import { type ForecastAsked, type ForecastSaid, SHOWS_AT_ONCE } from "./forecastMessage";

self.onmessage = ({ data }: MessageEvent<ForecastAsked>) => {
  const forecast = new Forecast(data.question);
  for (let done = 0; done < data.shows; ) {
    const shows = Math.min(SHOWS_AT_ONCE, data.shows - done);
    const results = forecast.run(shows);
    done += shows;
    const said: ForecastSaid = { done, results };
    self.postMessage(said);
  }
};
