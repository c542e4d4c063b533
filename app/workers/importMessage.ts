import type { Problem } from "@ukaza/contract/problem";
import type { ReadingAnswers } from "@ukaza/core/formats/fileReading";
import type { Preview, PreviewRow, RowVerdict } from "./importSession";

/** What the page asks of the import worker; each question has a number, and its answer the same. */
export type ImportQuestion = { number: number } & (
  | { kind: "read"; uplinkId: string; text: string; answers: ReadingAnswers; nowMs: number }
  | { kind: "page"; verdict: RowVerdict | "all"; skip: number; take: number }
  | { kind: "take"; importId: string }
);

export type ImportReply = { number: number } & (
  | { kind: "progress"; done: number; total: number }
  | { kind: "answer"; answer: Preview | PreviewRow[] | { added: number } }
  | { kind: "refused"; problem: Problem }
);
