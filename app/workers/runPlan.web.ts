import { brokeDown } from "./brokeDown";
import type { PlanHeard, PlanJob, PlanSaid } from "./planJob";

/** Workers that are done and wait: the next job need not load one. */
const idle: Worker[] = [];

/** Does a job in a worker, so that the page answers meanwhile. Gives a way to stop it. */
export function runPlan(job: PlanJob, onHeard: (heard: PlanHeard) => void): () => void {
  const worker = idle.pop() ?? new Worker(new URL("./plan.worker", window.location.href));
  let busy = true;
  const end = () => {
    busy = false;
    worker.terminate();
    worker.onmessage = worker.onerror = null;
  };
  worker.onmessage = ({ data }: MessageEvent<PlanSaid>) => {
    if (data.kind !== "progress") {
      busy = false;
      idle.push(worker);
    }
    onHeard(data);
  };
  // A worker that cannot be loaded, or that a fault ended, is not used again; whoever waits for it hears of it.
  worker.onerror = ({ message }) => {
    if (!busy) return;
    end();
    onHeard({ kind: "failed", error: brokeDown(message ?? "") });
  };
  worker.postMessage(job);
  return () => {
    if (busy) end();
  };
}
