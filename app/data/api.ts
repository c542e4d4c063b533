import { type Problem, problem } from "@ukaza/contract/problem";

/** What the server refused, in its own words. */
export class ApiError extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail);
  }
}

const unreachable: Problem = {
  type: "urn:ukaza:problem:server-not-heard",
  title: "server not heard",
  status: 0,
  detail: "The server does not answer.",
  mend: "Check that it runs and that this device is on its network; what you see may be old.",
};

async function ask(path: string, init: RequestInit): Promise<unknown> {
  let answer: Response;
  try {
    answer = await fetch(`/api${path}`, init);
  } catch {
    throw new ApiError(unreachable);
  }
  const body: unknown = await answer.json().catch(() => null);
  if (answer.ok) return body;
  const said = problem.safeParse(body);
  throw new ApiError(
    said.success
      ? said.data
      : { ...unreachable, status: answer.status, detail: `The server answered ${answer.status}.`, mend: "Try again." },
  );
}

/** Reads a path of the interface. */
export const read = <T>(path: string): Promise<T> => ask(path, {}) as Promise<T>;

/** Sends a change and gives the new truth. */
export const send = <T>(method: "POST" | "PUT" | "PATCH" | "DELETE", path: string, body?: unknown): Promise<T> =>
  ask(path, {
    method,
    ...(body === undefined ? {} : { headers: { "content-type": "application/json" }, body: JSON.stringify(body) }),
  }) as Promise<T>;
