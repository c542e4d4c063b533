import { type LineTestMessage, lineTestJob } from "@ukaza/contract/lineTest";
import { runTest } from "./runTest";

// A test runs in a process of its own: its clock must not wait for the database, nor the show for its bytes.
const say = (message: LineTestMessage) => new Promise<void>((resolve) => process.send?.(message, () => resolve()));

process.once("message", async (message) => {
  const job = lineTestJob.parse(message);
  await say(await runTest(job, (progress) => void say({ kind: "progress", progress })));
  process.exit(0);
});
process.once("disconnect", () => process.exit(0));
