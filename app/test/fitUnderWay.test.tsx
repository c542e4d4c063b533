import { act, fireEvent, screen, waitFor } from "@testing-library/react";
import type { EventDemands } from "@ukaza/contract/eventPlan";
import type { ReactNode } from "react";
import { problem } from "../../core/test/kit";
import { brokeDown } from "../workers/brokeDown";
import type { PlanHeard, PlanJob } from "../workers/planJob";
import { openFit, two } from "./fitPage";
import { answers, refusals, problem as refused, sent } from "./page";

jest.mock("expo-router", () => ({ useRouter: () => ({ push: jest.fn() }), Link: ({ children }: { children: ReactNode }) => children }));
const plain = jest.requireActual("../workers/runPlan.ts") as typeof import("../workers/runPlan");
/** Stands in for the worker: by default the same sums, done here. */
let mockRun = plain.runPlan;
jest.mock("../workers/runPlan", () => ({
  runPlan: (job: PlanJob, onHeard: (heard: PlanHeard) => void) => mockRun(job, onHeard),
}));
jest.mock("../workers/runForecast", () => jest.requireActual("../workers/runForecast.ts"));
jest.mock("react-native-chart-kit/v2", () => ({ LineChart: () => null }));
beforeEach(() => {
  mockRun = plain.runPlan;
});

const press = (name: string | RegExp) => fireEvent.click(screen.getByRole("button", { name }));
const type = (label: string, value: string) => fireEvent.change(screen.getByRole("textbox", { name: label }), { target: { value } });
const VIDEO = "Video bitrate, kb/s";
const bitratesSent = () =>
  sent.filter((s) => s.path.endsWith("/demands")).map((s) => (s.body as EventDemands).destinations[0]?.fixed.videoBps);

async function openSettings() {
  await screen.findByText(/^The best use of these lines/);
  press("More of Oriel Public");
  press("Change the settings by hand");
}

test("changes are sent one after the other: none overtakes a newer one, and of those that wait only the newest goes", async () => {
  openFit(problem([7_000_000]));
  await openSettings();
  const take = answers.get("PUT /api/events/e/demands") as (body: unknown) => unknown;
  const held: (() => void)[] = [];
  answers.set("PUT /api/events/e/demands", (body: unknown) => new Promise((go) => held.push(() => go(take(body)))));
  for (const kbps of ["3000", "3500", "4000"]) type(VIDEO, kbps);
  await screen.findByText(/at 4\.0 Mb\/s$/);
  expect(bitratesSent()).toEqual([3_000_000]);
  await act(async () => held[0]?.());
  await waitFor(() => expect(bitratesSent()).toEqual([3_000_000, 4_000_000]));
  // What the server says meanwhile of the older change is not put in the newer one's place.
  expect(screen.getByText(/^By hand: video bitrate 4\.0 Mb\/s/)).toBeTruthy();
  await act(async () => held[1]?.());
  await waitFor(() => expect(screen.getByText(/^By hand: video bitrate 4\.0 Mb\/s/)).toBeTruthy());
  expect(held).toHaveLength(2);
});

test("after a refused change the screen shows what the server holds, and the next change is sent", async () => {
  openFit(problem([7_000_000]));
  await openSettings();
  refusals.set("/api/events/e/demands", { status: 409, body: refused("an encoder is sending") });
  type(VIDEO, "3000");
  expect((await screen.findByRole("alert")).textContent).toContain("An encoder is sending.");
  await waitFor(() => expect(screen.queryByText(/^By hand/)).toBeNull());
  refusals.clear();
  type(VIDEO, "4000");
  await screen.findByText(/^By hand: video bitrate 4\.0 Mb\/s/);
  await waitFor(() => expect(screen.queryByRole("alert")).toBeNull());
});

test("an answer that arrives while somebody is in a field does not write it over", async () => {
  openFit(problem([7_000_000]));
  await openSettings();
  const field = screen.getByRole("textbox", { name: VIDEO }) as HTMLInputElement;
  fireEvent.click(screen.getByRole("radio", { name: "50" }));
  fireEvent.focus(field);
  const title = await screen.findByText(/^1920×1080, 50 frames\/s at [\d.]+ Mb\/s$/);
  const servedKbps = String(Number(title.textContent?.match(/at ([\d.]+)/)?.[1]) * 1000);
  expect(servedKbps).not.toBe("5800");
  expect(field.value).toBe("5800");
  fireEvent.blur(field);
  expect(field.value).toBe(servedKbps);
  fireEvent.focus(field);
  type(VIDEO, "300");
  type(VIDEO, "300x");
  await screen.findByText(/at 300 kb\/s$/);
  expect(field.value).toBe("300x");
  expect(screen.getByText("Give a number from 50 to 100000.")).toBeTruthy();
  type(VIDEO, "3000");
  await screen.findByText(/at 3\.0 Mb\/s$/);
  fireEvent.blur(field);
  press("Back to the best");
  await waitFor(() => expect(field.value).toBe("5800"));
});

test("a search that breaks down says so; the last answer stands and the next change is worked out", async () => {
  openFit(two(9_000_000));
  await openSettings();
  mockRun = (_job, onHeard) => {
    onHeard({ kind: "failed", error: brokeDown("out of memory") });
    return () => undefined;
  };
  type(VIDEO, "3000");
  const said = await screen.findAllByRole("alert");
  expect(said[0]?.textContent).toContain("This could not be worked out (out of memory). Nothing is lost.");
  expect(screen.getByText(/^The best use of these lines: 2 of 2 served/)).toBeTruthy();
  mockRun = plain.runPlan;
  type(VIDEO, "4000");
  await screen.findByText(/at 4\.0 Mb\/s$/);
  await waitFor(() => expect(screen.queryByRole("alert")).toBeNull());
});

test("a first search that breaks down leaves no screen that waits for ever", async () => {
  mockRun = (_job, onHeard) => {
    onHeard({ kind: "failed", error: brokeDown("") });
    return () => undefined;
  };
  openFit(two(9_000_000));
  expect((await screen.findByRole("alert")).textContent).toContain("This could not be worked out.");
  expect(screen.queryByText("Working out the best plan…")).toBeNull();
});
