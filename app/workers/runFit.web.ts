import type { FitAnswer, FitProblem } from "@ukaza/contract/fit";
import type { FitQuestion, FitReply } from "./fitMessage";

let worker: Worker | null = null;
let asked = 0;
const waiting = new Map<number, (answer: FitAnswer) => void>();

function open(): Worker {
  const made = new Worker(new URL("./fit.worker", window.location.href));
  made.onmessage = (event: MessageEvent<FitReply>) => {
    waiting.get(event.data.number)?.(event.data.answer);
    waiting.delete(event.data.number);
  };
  return made;
}

/** Fits in a worker, so that the page answers while it computes. */
export function runFit(problem: FitProblem): Promise<FitAnswer> {
  worker ??= open();
  const question: FitQuestion = { number: ++asked, problem };
  return new Promise((resolve) => {
    waiting.set(question.number, resolve);
    worker?.postMessage(question);
  });
}
