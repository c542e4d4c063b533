import { ApiError, send } from "../data/api";
import type { ImportQuestion, ImportReply } from "./importMessage";
import { ImportSession } from "./importSession";

let session: ImportSession | null = null;

self.onmessage = async ({ data }: MessageEvent<ImportQuestion>) => {
  const { number } = data;
  const say = (reply: ImportReply) => self.postMessage(reply);
  const onProgress = (done: number, total: number) => say({ number, kind: "progress", done, total });
  try {
    if (data.kind === "read") {
      session = new ImportSession(data.uplinkId, (path, body) => send("POST", path, body));
      say({ number, kind: "answer", answer: await session.read(data.text, data.answers, data.nowMs, onProgress) });
    } else if (session && data.kind === "page") say({ number, kind: "answer", answer: session.page(data.verdict, data.skip, data.take) });
    else if (session && data.kind === "take") say({ number, kind: "answer", answer: await session.take(data.importId, onProgress) });
  } catch (error) {
    const problem =
      error instanceof ApiError
        ? error.problem
        : {
            type: "urn:ukaza:problem:failed",
            title: "failed",
            status: 0,
            detail: String((error as Error).message),
            mend: "Choose the file again.",
          };
    say({ number, kind: "refused", problem });
  }
};
