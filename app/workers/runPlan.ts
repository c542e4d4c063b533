import { doPlanJob, type PlanJob, type PlanSaid } from "./planJob";

/** Without web workers a job is done here. Gives a way to stop it before it begins. */
export function runPlan(job: PlanJob, onSaid: (said: PlanSaid) => void): () => void {
  let wanted = true;
  const timer = setTimeout(() => doPlanJob(job, (said) => wanted && onSaid(said)));
  return () => {
    wanted = false;
    clearTimeout(timer);
  };
}
