import { fitOne } from "@ukaza/core/fit/fitOne";
import type { FitQuestion, FitReply } from "./fitMessage";

self.onmessage = (event: MessageEvent<FitQuestion>) => {
  const { number, problem } = event.data;
  const reply: FitReply = { number, answer: fitOne(problem) };
  self.postMessage(reply);
};
