import { problem, Refusal } from "@ukaza/contract/problem";
import type { z } from "zod";

/** Time a device has to answer before it counts as not heard. */
const PATIENCE_MS = 800;

/** Calls a device over HTTP and reads its answer by a schema. What the device refuses is passed on in its own words. */
export async function call<T>(
  schema: z.ZodType<T>,
  method: string,
  url: string,
  body?: unknown,
  headers: Record<string, string> = {},
): Promise<T> {
  const who = new URL(url).pathname;
  let answer: Response;
  let json: unknown;
  try {
    answer = await fetch(url, {
      method,
      signal: AbortSignal.timeout(PATIENCE_MS),
      headers: { ...headers, ...(body === undefined || body instanceof URLSearchParams ? {} : { "content-type": "application/json" }) },
      ...(body === undefined ? {} : { body: body instanceof URLSearchParams ? body : JSON.stringify(body) }),
    });
    json = await answer.json();
  } catch {
    throw new Refusal(
      502,
      "device-not-heard",
      `no answer from the device (${method} ${who})`,
      "Check that it is switched on and on the network, then try again.",
    );
  }
  if (answer.status === 401)
    throw new Refusal(
      409,
      "account-needed",
      "the platform has not let this program in",
      "Connect the account, on the platform's page or in Rig.",
    );
  // RFC 8628 answers with an error that is no failure.
  if (!answer.ok && !schema.safeParse(json).success) {
    const said = problem.safeParse(json);
    throw new Refusal(
      502,
      "device-refused",
      said.success ? said.data.detail : `the device answered ${answer.status}`,
      said.success ? said.data.mend : "See the device's own page.",
    );
  }
  const parsed = schema.safeParse(json);
  if (!parsed.success)
    throw new Refusal(
      502,
      "device-not-understood",
      `the device's answer to ${method} ${who} does not read as expected`,
      "Its software may be of another version.",
    );
  return parsed.data;
}
