import type { ApiError } from "../data/api";
import { brokeDown } from "./brokeDown";
import type { ForecastAsked, ForecastSaid } from "./forecastMessage";

/** Runs shows in a worker of their own, so that the page answers meanwhile. Gives a way to stop it. */
export function runForecast(asked: ForecastAsked, onSaid: (said: ForecastSaid) => void, onFailed: (error: ApiError) => void): () => void {
  const worker = new Worker(new URL("./forecast.worker", window.location.href));
  worker.onmessage = ({ data }: MessageEvent<ForecastSaid>) => {
    onSaid(data);
    if (data.done >= asked.shows) worker.terminate();
  };
  worker.onerror = ({ message }) => {
    worker.terminate();
    onFailed(brokeDown(message ?? ""));
  };
  worker.postMessage(asked);
  return () => worker.terminate();
}
