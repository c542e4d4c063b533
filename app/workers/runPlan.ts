import { brokeDown } from "./brokeDown";
import { doPlanJob, type PlanHeard, type PlanJob } from "./planJob";

/** Without web workers a job is done here. Gives a way to stop it before it begins. */
export function runPlan(job: PlanJob, onHeard: (heard: PlanHeard) => void): () => void {
  let wanted = true;
  const tell = (heard: PlanHeard) => wanted && onHeard(heard);
  const timer = setTimeout(() => {
    try {
      doPlanJob(job, tell);
    } catch (failure) {
      tell({ kind: "failed", error: brokeDown(String(failure)) });
    }
  });
  return () => {
    wanted = false;
    clearTimeout(timer);
  };
}
