import { Refusal } from "@ukaza/contract/problem";
import type { ErrorRequestHandler, RequestHandler } from "express";
import type { Logger } from "pino";

/** Errors that Express's own body reader throws, in our words. */
const bodyErrors: Record<string, [kind: string, detail: string, mend: string]> = {
  "entity.parse.failed": ["not-json", "the body is not JSON", "Send one JSON document."],
  "entity.too.large": ["too-large", "the body is larger than is taken here", "Send less at a time."],
  "encoding.unsupported": ["encoding", "this encoding of the body is not known", "Send UTF-8."],
  "charset.unsupported": ["encoding", "this character set is not known", "Send UTF-8."],
};

export const notFound: RequestHandler = (request, _response, next) => {
  next(new Refusal(404, "not-found", `${request.method} ${request.path} is not there`, "Check the address."));
};

/** Answers every error with a problem document (RFC 9457); what nobody foresaw is logged and named a failure. */
export function asProblem(log: Logger): ErrorRequestHandler {
  return (error, request, response, _next) => {
    const known = bodyErrors[error.type as string];
    let refusal: Refusal;
    if (error instanceof Refusal) refusal = error;
    else if (known) refusal = new Refusal(error.status, ...known);
    else if (error instanceof URIError) refusal = new Refusal(400, "bad-address", "the address cannot be read", "Check its percent signs.");
    else {
      log.error({ err: error, path: request.path }, "a request failed");
      refusal = new Refusal(
        500,
        "failed",
        "something went wrong inside Ukaza; nothing was changed",
        "Try again; if it stays, look into the server's log.",
      );
    }
    response.status(refusal.problem.status).type("application/problem+json").send(refusal.problem);
  };
}
