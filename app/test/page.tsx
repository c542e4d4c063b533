import { cleanup, configure, render } from "@testing-library/react";
import { type EventNow, event as eventSchema } from "@ukaza/contract/event";
import type { ReactNode } from "react";
import { SWRConfig } from "swr";

// Searches are done here and not in a worker: on a busy machine one takes longer than the second that is waited by default.
configure({ asyncUtilTimeout: 20_000 });

/** A server in the page's place: answers by path (a function: of what is sent, at once or later), keeps what it was sent, and refuses where it is told to. */
export const answers = new Map<string, unknown>();
export const sent: { method: string; path: string; body: unknown }[] = [];
export const refusals = new Map<string, { status: number; body: unknown }>();

beforeEach(() => {
  answers.clear();
  sent.length = 0;
  refusals.clear();
  global.fetch = jest.fn(async (path: string, init: RequestInit = {}) => {
    const method = init.method ?? "GET";
    if (method !== "GET")
      sent.push({
        method,
        path,
        body: typeof init.body === "string" && init.body.startsWith("{") ? JSON.parse(init.body) : (init.body ?? null),
      });
    const refused = method === "GET" ? undefined : refusals.get(path);
    if (refused) return { ok: false, status: refused.status, json: async () => refused.body } as Response;
    const found = answers.get(`${method} ${path}`) ?? answers.get(`GET ${path}`);
    const body = typeof found === "function" ? await found(sent.at(-1)?.body) : found;
    return { ok: body !== undefined, status: body === undefined ? 404 : 200, json: async () => body ?? null } as Response;
  }) as never;
});
afterEach(cleanup);

export const show = (children: ReactNode) =>
  render(<SWRConfig value={{ provider: () => new Map(), dedupingInterval: 0, shouldRetryOnError: false }}>{children}</SWRConfig>);

/** A refusal in the server's manner. */
export const problem = (detail: string, kind = "refused") => ({
  type: `urn:ukaza:problem:${kind}`,
  title: kind,
  status: 409,
  detail,
  mend: "Do otherwise.",
});

export const event = eventSchema.parse({
  format: "ukaza-event",
  version: 1,
  id: "e",
  name: "Concert",
  venueId: "v",
  timeZone: "UTC",
  show: { start: "2026-06-10T19:00:00Z", end: "2026-06-10T21:00:00Z" },
  source: { width: 1920, height: 1080, frameRate: "50", scan: "progressive" },
  content: "stage",
  encoderIds: ["desk-encoder"],
  destinations: [{ id: "oriel", platformId: "oriel-public", title: "T", access: "public" }],
});
export const now: EventNow = {
  event,
  venueName: "Hall",
  finishedAt: null,
  next: "survey",
  broadcast: "off",
  stages: { survey: "done", fit: "not begun", rig: "not begun", lineup: "not begun", air: "not begun", wrap: "not begun" },
};
