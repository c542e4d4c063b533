import { screen, waitFor } from "@testing-library/react";
import { uplink } from "../../core/test/kit";
import { planTimes, type TypedPlan } from "../stages/survey/planTimes";
import { fromTyped, readReserved, toTyped, typedUplink, writeReserved } from "../stages/survey/uplinkTyped";
import { answers, sent } from "./page";
import { open, part, press, surveyed, type } from "./surveyPage";

jest.mock("expo-router", () => ({ useRouter: () => ({ push: jest.fn() }) }));
jest.mock("../workers/openImport", () => jest.requireActual("../workers/openImport.ts"));
jest.mock("../data/pickFile", () => ({ pickTextFile: jest.fn() }));
jest.mock("react-native-chart-kit/v2", () => ({ LineChart: () => null, BarChart: () => null }));

describe("the times of a plan", () => {
  const plan: TypedPlan = { kind: "every", from: "18:00", until: "19:00", everyMin: "30", list: "", days: "today" };
  const at = (...times: string[]) => ({ times: times.map((t) => Date.parse(t)) });
  const summer = { start: "2026-06-12T18:30:00Z", end: "2026-06-12T20:30:00Z" };
  const nowMs = Date.parse("2026-06-10T17:10:00Z");
  const of = (more: Partial<TypedPlan>, zone = "Europe/London", when = nowMs) => planTimes({ ...plan, ...more }, summer, zone, when);

  test("today, on the venue's clock, without what has gone by", () => {
    expect(of({})).toEqual(at("2026-06-10T17:30:00Z", "2026-06-10T18:00:00Z"));
    expect(of({ kind: "list", list: "18:15; 20:00" })).toEqual(at("2026-06-10T17:15:00Z", "2026-06-10T19:00:00Z"));
    expect(of({ from: "23:30", until: "00:30" })).toEqual(at("2026-06-10T22:30:00Z", "2026-06-10T23:00:00Z", "2026-06-10T23:30:00Z"));
  });
  test("each day until the show has ended", () => {
    expect(of({ kind: "list", list: "18:30 21:45", days: "until the show" })).toEqual(
      at("2026-06-10T17:30:00Z", "2026-06-10T20:45:00Z", "2026-06-11T17:30:00Z", "2026-06-11T20:45:00Z", "2026-06-12T17:30:00Z"),
    );
  });
  test("over the change of autumn the clock on the wall counts", () => {
    const autumn = { start: "2026-10-25T19:30:00Z", end: "2026-10-25T21:30:00Z" };
    const found = planTimes(
      { ...plan, kind: "list", list: "19:00", days: "until the show" },
      autumn,
      "Europe/London",
      Date.parse("2026-10-24T12:00:00Z"),
    );
    expect(found).toEqual(at("2026-10-24T18:00:00Z", "2026-10-25T19:00:00Z"));
  });
  test.each([
    [{ everyMin: "0" }, /whole minutes/],
    [{ everyMin: "x" }, /whole minutes/],
    [{ from: "6pm" }, /times of day/],
    [{ from: "10:00", until: "11:00" }, /gone by/],
    [{ from: "18:30", until: "18:20", everyMin: "1" }, /more than 300/],
  ])("%j is refused", (more, words) => {
    expect(of(more)).toEqual({ wrong: expect.stringMatching(words) });
  });
});

describe("an uplink as it is typed", () => {
  test("reads back as it was, whatever it holds", () => {
    const full = uplink({
      metered: { allowanceGb: 20, usedGb: 3.4, pricePerGb: null },
      reserved: [
        { from: "09:00", until: "17:30", rateBps: 2_500_000, note: "office" },
        { from: "19:00", until: "01:00", rateBps: 4_000_000, note: "" },
      ],
      reflector: "[2001:db8::1]:4320",
      localAddress: "192.168.8.2",
    });
    const { id, reserveOverride, eventId, ...body } = full;
    expect(fromTyped(toTyped(full))).toEqual(body);
    expect(typedUplink.safeParse(toTyped(full)).success).toBe(true);
    expect(readReserved(writeReserved(full.reserved))).toEqual(full.reserved);
  });
  test.each([
    ["9:00-17:00 2,5 office", [{ from: "09:00", until: "17:00", rateBps: 2_500_000, note: "office" }]],
    [
      "19:00 to 23:00 4 Mb/s the bar; 23:00–02:00 1",
      [
        { from: "19:00", until: "23:00", rateBps: 4_000_000, note: "the bar" },
        { from: "23:00", until: "02:00", rateBps: 1_000_000, note: "" },
      ],
    ],
    ["", []],
    ["evening 4", null],
    ["19:00-25:00 4", null],
    ["19:00-23:00 0", null],
  ])("hours for others, %p", (text, read) => {
    expect(readReserved(text)).toEqual(read);
  });

  test("faults stand at their fields, and nothing is sent", async () => {
    open([surveyed({}, [])]);
    await press("Edit");
    type("Name", " ");
    type("Reflector for the built-in test", "nowhere");
    type("Set aside for others, by hours", "all evening");
    await press("Save the uplink");
    expect(await screen.findByText("Give it a name.")).toBeTruthy();
    expect(screen.getByText("Write it as 19:00-23:00 4 the bar's guests, with semicolons between.")).toBeTruthy();
    type("Name", "Fibre");
    type("Set aside for others, by hours", "");
    await press("Save the uplink");
    expect(await screen.findByText("write host and port as reflector.example:4320")).toBeTruthy();
    expect(sent).toEqual([]);
  });

  test("a new one goes to the venue or to this event alone; one is removed only when asked twice", async () => {
    open([surveyed({}, [])]);
    answers.set("POST /api/events/e/uplinks", { id: "dish" });
    answers.set("DELETE /api/uplinks/hall", {});
    await press("Add an uplink");
    type("Name", "Dish");
    await part("satellite");
    await part("Metered");
    type("Allowance, if there is one, GB", "ten");
    await part("Only for this event");
    await press("Add the uplink");
    expect(await screen.findByText("Give a number, 0 or more.")).toBeTruthy();
    type("Allowance, if there is one, GB", "10");
    await press("Add the uplink");
    await waitFor(() =>
      expect(sent).toMatchObject([
        {
          path: "/api/events/e/uplinks",
          body: { name: "Dish", kind: "satellite", metered: { allowanceGb: 10, usedGb: 0, pricePerGb: null } },
        },
      ]),
    );
    await press("Edit");
    await press("Remove this uplink");
    await press("Yes, remove it");
    await waitFor(() => expect(sent.at(-1)).toMatchObject({ method: "DELETE", path: "/api/uplinks/hall" }));
  });
});
