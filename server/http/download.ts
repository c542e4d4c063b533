import type { Response } from "express";

/** Answers with a JSON document that the browser saves under a name. */
export function asDownload(response: Response, name: string, document: unknown): void {
  response
    .attachment(name)
    .type("application/json")
    .send(`${JSON.stringify(document, null, 2)}\n`);
}
