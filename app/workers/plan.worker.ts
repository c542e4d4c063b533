import { doPlanJob, type PlanJob, type PlanSaid } from "./planJob";

self.onmessage = ({ data }: MessageEvent<PlanJob>) => doPlanJob(data, (said: PlanSaid) => self.postMessage(said));
