import { act, cleanup, fireEvent, screen, waitFor, within } from "@testing-library/react";
import type { EventPlan } from "@ukaza/contract/eventPlan";
import { demandsOf } from "@ukaza/core/fit/asked";
import { planFrom } from "@ukaza/core/fit/planFrom";
import type { ReactNode } from "react";
import { bestChoice, desk, problem, shippedKit } from "../../core/test/kit";
import { differenceText, namesOf, stepRowText } from "../words/plan";
import { openFit, putDemands, two } from "./fitPage";
import { refusals, sent } from "./page";

jest.mock("expo-router", () => ({ useRouter: () => ({ push: jest.fn() }), Link: ({ children }: { children: ReactNode }) => children }));
// jsdom has no workers: the same sums are done here, by the files that other targets use.
jest.mock("../workers/runPlan", () => jest.requireActual("../workers/runPlan.ts"));
jest.mock("../workers/runForecast", () => jest.requireActual("../workers/runForecast.ts"));
jest.mock("react-native-chart-kit/v2", () => ({ LineChart: () => null }));

const press = (name: string | RegExp) => fireEvent.click(screen.getByRole("button", { name }));
const sentence = () => screen.getByTestId("next-thing").textContent;

test("an unmeasured line is never fitted", async () => {
  openFit(problem([1]), { problem: null, unmeasured: ["Hall fibre"] });
  expect(await screen.findByText("Nothing is fitted to an unknown line. Measure it first.")).toBeTruthy();
});

test("the best plan: a card for each destination with why, a block of each on the load line, what would change it", async () => {
  openFit(two(6_500_000));
  await screen.findByText(/^The best use of these lines: 2 of 2 served/);
  expect(screen.getByTestId("certificate").textContent).toMatch(/points; no plan has more\.$/);
  expect(screen.getByTestId("why-oriel").textContent).toMatch(/^From Desk encoder over Hall fibre\. The line ends it here\.$/);
  expect(Number(screen.getByTestId("score-oriel").textContent?.split(" ")[0])).toBeGreaterThan(60);
  expect(screen.getByRole("img", { name: /^Hall fibre: load [\d.]+ Mb\/s of 6\.5 Mb\/s usable/ })).toBeTruthy();
  expect(await screen.findByText(/^One more Mb\/s on Hall fibre would add \d/, {}, { timeout: 5_000 })).toBeTruthy();
});

test("an override is kept by the plan; one that the platform refuses is laid over it, with its finding and a mend of one tap", async () => {
  openFit(problem([7_000_000]));
  await screen.findByText(/^The best use of these lines: 1920×1080, 25 frames\/s at 5\.8 Mb\/s/);
  press("More of Oriel Public");
  press("Change the settings by hand");
  fireEvent.click(screen.getByRole("radio", { name: "50" }));
  await screen.findByText(/^The best use of these lines: .*50 frames\/s/);
  expect(putDemands()?.destinations[0]?.fixed).toEqual({ frameRate: "50" });
  press("Let go of the settings by hand of Oriel Public");
  await screen.findByText(/^The best use of these lines: 1920×1080, 25 frames\/s at 5\.8 Mb\/s/);
  fireEvent.change(screen.getByRole("textbox", { name: "Video bitrate, kb/s" }), { target: { value: "8000" } });
  expect(await screen.findByText(/These settings load the line with 8\.4 Mb\/s; it can use 7\.0 Mb\/s/)).toBeTruthy();
  expect(screen.getByRole("img", { name: /Over by 1\.4 Mb\/s/ })).toBeTruthy();
  expect(screen.getByRole("button", { name: "Use this plan" }).getAttribute("aria-disabled")).toBe("true");
  press("Set video bitrate 6.6 Mb/s");
  await waitFor(() => expect(screen.queryByText(/These settings load the line/)).toBeNull());
  expect(putDemands()?.destinations[0]?.fixed).toEqual({ videoBps: 6_600_000 });
});

test("what is asked for a destination goes to the server; a refusal is shown and the screen goes back to what is true", async () => {
  const asked = two(9_000_000);
  openFit({ ...asked, uplinks: [...asked.uplinks, { id: "line-2", usableBps: 5_000_000 }], encoders: [desk, shippedKit["rack-two-way"]] });
  await screen.findByText(/2 of 2 served/);
  press("More of Oriel Public");
  fireEvent.click(screen.getByRole("radio", { name: "From another encoder" }));
  await waitFor(() => expect(putDemands()?.destinations[0]).toMatchObject({ backup: true, backupFrom: "another encoder" }));
  fireEvent.click(screen.getByRole("checkbox", { name: "Hotspot" }));
  await waitFor(() => expect(putDemands()?.destinations[0]?.notOver).toEqual(["line-2"]));
  refusals.set("/api/events/e/demands", {
    status: 409,
    body: { type: "x", title: "x", status: 409, detail: "an encoder is sending", mend: "Stop sending first." },
  });
  fireEvent.click(screen.getAllByRole("switch", { name: "Must be served" })[1] as HTMLElement);
  expect((await screen.findByRole("alert")).textContent).toContain("An encoder is sending. Stop sending first.");
});

test("demands that cannot hold together are named, and can be let go there", async () => {
  openFit(two(1_500_000, { notOver: ["line-1"] }));
  await screen.findByText("These demands cannot hold together:");
  expect(screen.getByText("• Oriel Public is not to go over Hall fibre")).toBeTruthy();
  fireEvent.click(screen.getAllByRole("switch", { name: "Must be served" })[0] as HTMLElement);
  await screen.findByText(/1 of 2 served/);
  expect(screen.getByText("Not served")).toBeTruthy();
});

test("using a plan sends what it serves; a refusal is shown with its mend and nothing is lost", async () => {
  openFit(problem([7_000_000]));
  await screen.findByText(/^The best use of these lines/);
  refusals.set("/api/events/e/fit", {
    status: 409,
    body: { type: "x", title: "x", status: 409, detail: "an encoder is sending", mend: "Stop sending first." },
  });
  press("Use this plan");
  expect((await screen.findByRole("alert")).textContent).toContain("An encoder is sending. Stop sending first.");
  expect(sent.findLast((s) => s.path.endsWith("/fit"))?.body).toMatchObject({
    name: "Plan 1",
    destinations: [{ settings: { videoBps: 5_800_000 }, feeds: [{ role: "main", uplinkId: "line-1" }] }],
    despite: false,
  });
  expect(sentence()).toMatch(/^The best use of these lines/);
});

test("the event's plan stays whatever the line does; a kept one is compared field by field and taken up", async () => {
  const asked = problem([7_000_000]);
  const { event: own } = openFit(asked);
  await screen.findByText(/^The best use of these lines/);
  const { choice } = bestChoice(asked, { frameRate: "50" });
  const plan = planFrom(asked, choice.destinations);
  const kept = (name: string): EventPlan => ({ id: name, name, savedAt: "2026-06-10T12:00:00Z", demands: demandsOf(own), plan });
  cleanup();
  openFit({ ...asked, uplinks: [{ id: "line-1", usableBps: 3_000_000 }] }, { chosen: kept("Opening"), plans: [kept("Spare one")] });
  await screen.findByText(/^The event goes by this plan: 1920×1080, 50 frames\/s/);
  expect(screen.getByRole("img", { name: /^Hall fibre: load [\d.]+ Mb\/s of 3\.0 Mb\/s usable.* Over by [\d.]+ Mb\/s/ })).toBeTruthy();
  press("Back to the best plan");
  await screen.findByText(/^The best use of these lines/);
  press("Compare Spare one with the plan in hand");
  const sheet = within(await screen.findByRole("dialog", { name: "Spare one and the plan in hand" }));
  expect(sheet.getByLabelText(/^Oriel Public: frame rate: 50 frames\/s, in hand 25 frames\/s/)).toBeTruthy();
  expect(sheet.getByLabelText(/^Points: /)).toBeTruthy();
  fireEvent.click(sheet.getByRole("button", { name: "Close" }));
  press("Take up Spare one");
  await waitFor(() => expect(sentence()).toMatch(/goes by this plan/));
});

test("step-downs are worked out when asked, before and once public", async () => {
  openFit(problem([7_000_000]));
  await screen.findByText(/^The best use of these lines/);
  press("Work out the step-downs");
  const list = within(await screen.findByRole("list", { name: "Step-downs of Hall fibre" }, { timeout: 10_000 }));
  expect(list.getAllByRole("listitem")[0]?.textContent).toMatch(
    /^Oriel Public: 1920×1080, 25 frames\/sHolds down to \d\.\d Mb\/s usable\.$/,
  );
  expect(list.getAllByRole("listitem").length).toBeGreaterThan(2);
  expect(screen.getByText(/^Below \d+ kb\/s on Hall fibre these demands cannot hold together\.$/)).toBeTruthy();
  fireEvent.click(screen.getByRole("radio", { name: "Once public" }));
  press("Work out the step-downs");
  const frozen = within(await screen.findByRole("list", { name: "Step-downs of Hall fibre" }, { timeout: 10_000 }));
  expect(frozen.getAllByRole("listitem")).toHaveLength(1);
});

test("budgets: delay in parts, data on a metered line; a recording beside the stream on each disk", async () => {
  openFit(
    problem([7_000_000]),
    { metered: { "line-1": { allowanceGb: 8, usedGb: 6, pricePerGb: 4 } } },
    { recordBps: { "desk-encoder": 25e6 } },
  );
  expect(await screen.findByText("Budgets")).toBeTruthy();
  expect(screen.getByText(/For 2:35:00 of sending/)).toBeTruthy();
  // To the viewer and to the preview.
  expect(screen.getAllByText("Sender's buffer: 500 ms")).toHaveLength(2);
  expect(
    screen.getByText(/^Hall fibre: \d\.\d\d GB of 2\.00 GB left, \d+\.\d\d in your currency\. It would run out before the end\.$/),
  ).toBeTruthy();
  expect(screen.getByText("Inside disk: 30.52 GB of 412.00 GB free.")).toBeTruthy();
  const field = screen.getByRole("textbox", { name: "Recording of the desk encoder, Mb/s" });
  fireEvent.change(field, { target: { value: "much" } });
  expect(screen.getByText("Give a bitrate from 0.1 to 1000 Mb/s.")).toBeTruthy();
  fireEvent.change(field, { target: { value: "500" } });
  expect(screen.getByText(/^Inside disk: 610\.31 GB of 412\.00 GB free: too little\.$/)).toBeTruthy();
  await act(async () => press("Set it"));
  expect(putDemands()?.recordBps).toEqual({ "desk-encoder": 500e6 });
});

describe("the words of plans", () => {
  const asked = two(9_000_000);
  const names = namesOf(asked, { "line-1": "Hall fibre" });

  test("a difference shows both values with their units", () => {
    const one = (field: Parameters<typeof differenceText>[0]["field"], a: unknown, b: unknown) =>
      differenceText({ destinationId: "oriel", field, a, b }, names);
    expect(one("videoBps", 5_800_000, 3_000_000)).toEqual({ what: "Oriel Public: video bitrate", a: "5.8 Mb/s", b: "3.0 Mb/s" });
    expect(one("served", true, false)).toEqual({ what: "Oriel Public: served", a: "served", b: "not served" });
    expect(one("backup", null, "desk-encoder line-1")).toMatchObject({ a: "none", b: "Desk encoder over Hall fibre" });
  });

  test("a row of step-downs says what changes against the one above, and nothing else", () => {
    const best = planFrom(asked, bestChoice(asked).choice.destinations);
    const without = planFrom(asked, bestChoice(asked).choice.destinations.slice(0, 1));
    const row = (plan: typeof best, fromBps: number) => ({ top: { fromBps, plan, proved: true }, bottom: { fromBps, plan, proved: true } });
    const above = row(best, 8e6);
    expect(stepRowText(above, null, names).what).toHaveLength(2);
    expect(stepRowText(row(without, 4e6), above, names)).toEqual({
      rate: "below 8.0 Mb/s down to 4.0 Mb/s",
      what: ["Parishboard: not served"],
    });
  });
});
