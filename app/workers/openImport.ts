import type { ReadingAnswers } from "@ukaza/core/formats/fileReading";
import { send } from "../data/api";
import { ImportSession, type OnProgress, type Preview, type PreviewRow, type RowVerdict } from "./importSession";

/** An import as the page sees it. */
export interface OpenImport {
  read: (text: string, answers: ReadingAnswers, onProgress: OnProgress) => Promise<Preview>;
  page: (verdict: RowVerdict | "all", skip: number, take: number) => Promise<PreviewRow[]>;
  take: (importId: string, onProgress: OnProgress) => Promise<{ added: number }>;
  close: () => void;
}

/** Without web workers the sums are done here. */
export function openImport(uplinkId: string): OpenImport {
  const session = new ImportSession(uplinkId, (path, body) => send("POST", path, body));
  return {
    read: (text, answers, onProgress) => session.read(text, answers, Date.now(), onProgress),
    page: async (verdict, skip, take) => session.page(verdict, skip, take),
    take: (importId, onProgress) => session.take(importId, onProgress),
    close: () => session.stop(),
  };
}
