import { fork } from "node:child_process";
import { join } from "node:path";
import { type LineTestJob, type LineTestMessage, type LineTestProgress, lineTestMessage } from "@ukaza/contract/lineTest";

/** A test under way: how it ends, and the way to end it early. */
export interface RunningTest {
  ended: Promise<Exclude<LineTestMessage, { kind: "progress" }>>;
  cancel: () => void;
}

export type RunTest = (job: LineTestJob, onProgress: (progress: LineTestProgress) => void) => RunningTest;

/** A whole test and what may go wrong around it never takes longer. */
const LONGEST_MS = 120_000;

/** Runs a test in a process of its own, ended by its own process id and nothing else. */
export const runInChild: RunTest = (job, onProgress) => {
  const child = fork(join(__dirname, "child.ts"), [], { execArgv: ["--import", "tsx"], stdio: ["ignore", "ignore", "inherit", "ipc"] });
  const late = setTimeout(() => child.kill("SIGKILL"), LONGEST_MS);
  const ended = new Promise<Awaited<RunningTest["ended"]>>((resolve) => {
    child.on("message", (message) => {
      const said = lineTestMessage.parse(message);
      if (said.kind === "progress") onProgress(said.progress);
      else resolve(said);
    });
    child.once("error", (error) => resolve({ kind: "failed", reason: `the test did not start (${error.message})` }));
    child.once("exit", () => resolve({ kind: "failed", reason: "the test broke off" }));
  });
  child.send(job);
  return { ended: ended.finally(() => clearTimeout(late)), cancel: () => void child.kill("SIGTERM") };
};
