import { LIBRARY_FILE_MOST } from "@ukaza/contract/library";
import { Refusal } from "@ukaza/contract/problem";

const PATIENCE_MS = 10_000;

const unreachable = (link: string, why: string) =>
  new Refusal(
    502,
    "link-not-read",
    `nothing could be read from ${new URL(link).host}: ${why}`,
    "Check the link, or save the file and choose it here.",
  );

/** Reads the text behind a link, no more of it than a file of the library can be. */
export async function fetchLink(link: string): Promise<string> {
  let answer: Response;
  try {
    answer = await fetch(link, { signal: AbortSignal.timeout(PATIENCE_MS), headers: { accept: "application/json" } });
  } catch (error) {
    throw unreachable(link, error instanceof Error && error.name === "TimeoutError" ? "no answer within ten seconds" : "no answer");
  }
  if (!answer.ok || !answer.body) {
    await answer.body?.cancel();
    throw unreachable(link, `it answered ${answer.status}`);
  }
  const pieces: Uint8Array[] = [];
  let bytes = 0;
  try {
    for await (const piece of answer.body as unknown as AsyncIterable<Uint8Array>) {
      bytes += piece.length;
      if (bytes > LIBRARY_FILE_MOST) throw tooLarge();
      pieces.push(piece);
    }
  } catch (error) {
    if (error instanceof Refusal) throw error;
    throw unreachable(link, "it broke off");
  }
  return Buffer.concat(pieces).toString("utf8");
}

export const tooLarge = () =>
  new Refusal(
    413,
    "too-large",
    `a rule sheet or an encoder is no file of more than ${LIBRARY_FILE_MOST / 1e6} MB`,
    "Check that this is the right file.",
  );
