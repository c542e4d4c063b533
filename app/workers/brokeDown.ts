import { ApiError } from "../data/api";

/** What is said when a sum beside the page ends without an answer. `why`: what the browser says of it, for whoever mends it. */
export const brokeDown = (why: string): ApiError =>
  new ApiError({
    type: "urn:ukaza:problem:sum-broke-down",
    title: "sum broke down",
    status: 0,
    detail: `This could not be worked out${why ? ` (${why})` : ""}.`,
    mend: "Nothing is lost. Change something or load the page again.",
  });
