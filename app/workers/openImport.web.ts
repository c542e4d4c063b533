import { ApiError } from "../data/api";
import { brokeDown } from "./brokeDown";
import type { ImportQuestion, ImportReply } from "./importMessage";
import type { OnProgress } from "./importSession";
import type { OpenImport } from "./openImport";

type Unnumbered<T> = T extends unknown ? Omit<T, "number"> : never;
interface Waiting {
  resolve: (answer: never) => void;
  reject: (error: Error) => void;
  onProgress: OnProgress;
}

/** Reads and takes a file in a worker, so that the page answers while 20 MB are read. */
export function openImport(uplinkId: string): OpenImport {
  const worker = new Worker(new URL("./import.worker", window.location.href));
  const waiting = new Map<number, Waiting>();
  let asked = 0;
  worker.onmessage = ({ data }: MessageEvent<ImportReply>) => {
    const who = waiting.get(data.number);
    if (data.kind === "progress") return who?.onProgress(data.done, data.total);
    waiting.delete(data.number);
    if (data.kind === "answer") who?.resolve(data.answer as never);
    else who?.reject(new ApiError(data.problem));
  };
  let broken: ApiError | null = null;
  worker.onerror = ({ message }) => {
    broken = brokeDown(message ?? "");
    for (const { reject } of waiting.values()) reject(broken);
    waiting.clear();
  };
  const ask = <T>(question: Unnumbered<ImportQuestion>, onProgress: OnProgress = () => undefined): Promise<T> =>
    new Promise((resolve, reject) => {
      // Nobody is there any more who would answer.
      if (broken) return reject(broken);
      const number = ++asked;
      waiting.set(number, { resolve, reject, onProgress });
      worker.postMessage({ ...question, number });
    });
  return {
    read: (text, answers, onProgress) => ask({ kind: "read", uplinkId, text, answers, nowMs: Date.now() }, onProgress),
    page: (verdict, skip, take) => ask({ kind: "page", verdict, skip, take }),
    take: (importId, onProgress) => ask({ kind: "take", importId }, onProgress),
    close: () => worker.terminate(),
  };
}
