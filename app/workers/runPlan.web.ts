import type { PlanJob, PlanSaid } from "./planJob";

/** Workers that are done and wait: the next job need not load one. */
const idle: Worker[] = [];

/** Does a job in a worker, so that the page answers meanwhile. Gives a way to stop it. */
export function runPlan(job: PlanJob, onSaid: (said: PlanSaid) => void): () => void {
  const worker = idle.pop() ?? new Worker(new URL("./plan.worker", window.location.href));
  let busy = true;
  worker.onmessage = ({ data }: MessageEvent<PlanSaid>) => {
    if (data.kind !== "progress") {
      busy = false;
      idle.push(worker);
    }
    onSaid(data);
  };
  worker.postMessage(job);
  return () => {
    if (busy) worker.terminate();
    busy = false;
  };
}
