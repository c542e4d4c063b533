import { act, fireEvent, screen, waitFor, within } from "@testing-library/react";
import type { LineTest } from "@ukaza/contract/lineTest";
import type { ListedMeasurement, MeasurementPage, Survey, UplinkSurvey } from "@ukaza/contract/survey";
import type { Uplink } from "@ukaza/contract/venue";
import { analyse } from "@ukaza/core/survey/analyse";
import { bondedOf, bondedVerdict } from "@ukaza/core/survey/bonded";
import { readingOf } from "@ukaza/core/survey/reading";
import { measured, oriel, uplink } from "../../core/test/kit";
import { planTimes, type TypedPlan } from "../stages/survey/planTimes";
import { SurveyBoard } from "../stages/survey/SurveyBoard";
import { SurveyStage } from "../stages/survey/SurveyStage";
import { fromTyped, readReserved, toTyped, typedUplink, writeReserved } from "../stages/survey/uplinkTyped";
import { VenueForm } from "../stages/venues/VenueForm";
import { answers, event, now, refusals, sent, show } from "./page";

jest.mock("expo-router", () => ({ useRouter: () => ({ push: jest.fn() }) }));
jest.mock("../workers/openImport", () => jest.requireActual("../workers/openImport.ts"));
jest.mock("../data/pickFile", () => ({ pickTextFile: jest.fn() }));
jest.mock("react-native-chart-kit/v2", () => ({ LineChart: () => null, BarChart: () => null }));
const { pickTextFile } = jest.requireMock("../data/pickFile") as { pickTextFile: jest.Mock };

const question = { show: event.show, timeZone: "UTC", asOf: "2026-06-10T12:00:00Z", reserveOverride: null };
const readings = (rates: number[]) =>
  rates.map((mbps, i) =>
    readingOf(measured(`2026-06-09T19:${String(10 + i).padStart(2, "0")}:00Z`, mbps, { rttMs: 14, lossRatio: 0.0001 })),
  );

function surveyed(more: Partial<Uplink>, rates: number[]): UplinkSurvey {
  const { result, path, hours, days, bins } = analyse(readings(rates), question);
  return { uplink: uplink(more), result, bonded: null, path, hours, days, bins, regions: [], busy: false };
}
const survey = (uplinks: UplinkSurvey[]): Survey => ({ venueId: "v", timeZone: "UTC", show: event.show, uplinks });

/** The server's page of the list, from the same readings. */
function listPage(rates: number[], more: Partial<ListedMeasurement> = {}): MeasurementPage {
  const rows = readings(rates).map((r, i) => ({
    id: `m-${i}`,
    takenAt: new Date(r.takenAtMs).toISOString(),
    ownIpBps: r.ownIpBps,
    atShowBps: r.ownIpBps,
    source: "csv" as const,
    floor: false,
    rttMs: 14,
    jitterMs: null,
    lossRatio: 0.0001,
    counts: true,
    outlier: null,
    excluded: null,
    ...more,
  }));
  return { total: rows.length, skip: 0, rows };
}
const listPath = "GET /api/uplinks/hall/measurements?event=e&sort=time&order=desc&show=all&skip=0&take=25";

function open(uplinks: UplinkSurvey[], tests: LineTest[] = []) {
  answers.set("GET /api/events/e", now);
  answers.set("GET /api/events/e/survey", survey(uplinks));
  answers.set("GET /api/platforms", [{ sheet: oriel }]);
  for (const u of uplinks) answers.set(`GET /api/uplinks/${u.uplink.id}/tests`, tests);
  show(<SurveyStage eventId="e" />);
}
const button = (name: string | RegExp) => screen.findByRole("button", { name });
/** Presses, and lets what that sets going come to rest. */
const click = (element: HTMLElement) =>
  act(async () => {
    fireEvent.click(element);
  });
const press = async (name: string | RegExp) => click(await button(name));
const part = async (name: string) => click(await screen.findByRole("radio", { name }));
const type = (label: string, value: string) => void fireEvent.change(screen.getByRole("textbox", { name: label }), { target: { value } });

describe("verdict", () => {
  test("nothing measured: says so and offers the first step, no figure is made up", async () => {
    open([surveyed({}, [])]);
    expect(await screen.findByText("Nothing has been measured here yet.")).toBeTruthy();
    expect(screen.queryByTestId("usable")).toBeNull();
    expect(screen.queryByRole("button", { name: "Go to Fit" })).toBeNull();
    await press("Measure a line");
    expect(await button("Measure now")).toBeTruthy();
  });

  test("six tests: the slowest less 35 %, what is missing, and the charts in words", async () => {
    open([surveyed({}, [14, 12, 15, 13, 16, 18])]);
    await waitFor(() => expect(screen.getByTestId("usable").textContent).toBe("7.8 Mb/s"));
    expect(screen.getByTestId("sustainable").textContent).toBe("12.0 Mb/s");
    expect(screen.getByTestId("missing").textContent).toBe(
      "23 more tests between 17:30 and 22:30 on a weekday lower the reserve from 35 % to 20 %.",
    );
    expect(
      screen.getByRole("img", { name: /Rate by hour of day over 1 hours\. Lowest: a tenth under 12\.0 Mb\/s .* Usable 7\.8 Mb\/s/ }),
    ).toBeTruthy();
    await part("Distribution");
    expect(screen.getByRole("img", { name: /Distribution of 6 tests/ })).toBeTruthy();
    await part("By day");
    expect(screen.getByText("6 tests, 6 near show time; least of the day 12.0 Mb/s, middle 14.0 Mb/s")).toBeTruthy();
  });

  test("a bonded group shows its members and what is left without the strongest", async () => {
    const modems = [
      surveyed({ id: "m1", name: "Modem 1", kind: "cellular" }, [4, 4, 4, 4, 4]),
      surveyed({ id: "m2", name: "Modem 2", kind: "cellular" }, [6, 6, 6, 6, 6]),
    ];
    const members = modems.map((m) => ({ id: m.uplink.id, name: m.uplink.name, result: m.result }));
    const group = surveyed({ id: "g", name: "Field pack", kind: "bonded", members: ["m1", "m2"] }, []);
    const bonded = bondedOf(members);
    open([{ ...group, bonded, result: bondedVerdict(group.result, bonded, members) }, ...modems]);
    expect((await screen.findByTestId("sustainable")).textContent).toBe("9.5 Mb/s");
    expect(screen.getByText("Without Modem 2")).toBeTruthy();
    expect(screen.getByText("3.8 Mb/s")).toBeTruthy();
    await part("Measure");
    expect(await screen.findByText(/A bonded group is measured by its members: Modem 1, Modem 2/)).toBeTruthy();
    expect(await screen.findAllByRole("button", { name: "Measure now" })).toHaveLength(2);
  });

  test("other hours are asked for from the server; a time that is none is not", async () => {
    open([surveyed({}, [14, 12, 15, 13, 16])]);
    answers.set("GET /api/events/e/survey?from=10:00&until=12:00", survey([surveyed({}, [30, 31, 32, 33, 34])]));
    await press("Try other hours");
    type("From", "10 am");
    expect(screen.getByText("Write a time of day as 19:30.")).toBeTruthy();
    expect((await button("Show these hours")).getAttribute("aria-disabled")).toBe("true");
    type("From", "10:00");
    type("Until", "12:00");
    await press("Show these hours");
    await waitFor(() => expect(screen.getByTestId("sustainable").textContent).toBe("30.0 Mb/s"));
  });

  test("two uplinks stand side by side, line by line", async () => {
    open([
      surveyed({}, [14, 12, 15, 13, 16]),
      surveyed(
        { id: "spot", name: "Hotspot", kind: "cellular", metered: { allowanceGb: null, usedGb: 0, pricePerGb: 4 } },
        [5, 6, 7, 8, 9],
      ),
    ]);
    await press("Compare two");
    const table = within(await screen.findByRole("table", { name: "Hall fibre and Hotspot" }));
    const row = (name: string) => table.getByRole("rowheader", { name }).parentElement?.textContent;
    expect(row("Usable")).toBe("Usable7.8 Mb/s3.3 Mb/s");
    // 2.7 GB in an hour at 4 a GB.
    expect(row("An hour at 6 Mb/s")).toBe("An hour at 6 Mb/sno price10.80");
  });

  test("a server that does not answer is said in words", async () => {
    answers.set("GET /api/events/e", now);
    show(<SurveyStage eventId="e" />);
    expect((await screen.findByRole("alert")).textContent).toContain("The server answered 404");
  });
});

describe("what it carries", () => {
  test("the largest picture of each platform, how many fit, and the regions not yet measured", async () => {
    const relay = {
      ...oriel,
      platform: { id: "relay", name: "Relay" },
      regions: [
        { id: "north", name: "North" },
        { id: "south", name: "South" },
      ],
    };
    open([
      {
        ...surveyed({}, [20, 20, 20, 20, 20]),
        regions: [{ platformId: "relay", regionId: "south", rttMs: 21, takenAt: "2026-06-09T10:00:00Z" }],
      },
    ]);
    answers.set("GET /api/platforms", [{ sheet: oriel }, { sheet: relay }]);
    answers.set("POST /api/uplinks/hall/regions", { added: 1 });
    await part("Carries");
    const [platform] = await screen.findAllByRole("button", { name: "Oriel Public: 1920×1080 at 60 frames/s" });
    expect(platform?.textContent).toContain("One such feed fits.");
    if (platform) await click(platform);
    expect(screen.getByText("How many such feeds fit at the same time:")).toBeTruthy();
    expect(screen.getByText(/Relay: South is nearest, 21 ms\. Not measured: North\./)).toBeTruthy();
    await press("Add a round trip to Relay");
    type("Round trip, ms", "abc");
    expect(screen.getByText("Give milliseconds from 0.1 to 60000.")).toBeTruthy();
    type("Round trip, ms", "17,5");
    await press("Add the round trip");
    await waitFor(() =>
      expect(sent).toMatchObject([{ path: "/api/uplinks/hall/regions", body: { platformId: "relay", regionId: "north", rttMs: 17.5 } }]),
    );
  });

  test("an unmeasured line carries nothing that we would vouch for", async () => {
    open([surveyed({}, [])]);
    await part("Carries");
    expect(await screen.findByText("Hall fibre has not been measured. One test tells what it carries.")).toBeTruthy();
  });
});

describe("measure", () => {
  const lineTest = (more: Partial<LineTest>): LineTest => ({
    id: "t",
    uplinkId: "hall",
    dueAt: "2026-06-10T12:00:00Z",
    state: "running",
    startedAt: null,
    endedAt: null,
    measurementId: null,
    bytes: null,
    reason: null,
    progress: null,
    ...more,
  });

  test("the cost stands there before; a running test shows how far it is and can be cancelled", async () => {
    const running = lineTest({ progress: { phase: "uploading", share: 0.5, rateBps: 8e6 } });
    open([surveyed({ metered: { allowanceGb: 1, usedGb: 0.99, pricePerGb: 10 } }, [8, 8, 8, 8, 8])], [running]);
    answers.set("DELETE /api/tests/t", lineTest({ state: "cancelled" }));
    await part("Measure");
    expect((await screen.findByTestId("cost")).textContent).toContain(
      "at 10 per GB that is 0.12. 0.0 GB of 1 are left. That is more than is left.",
    );
    const bar = await screen.findByRole("progressbar", { name: "Filling the line, 8.0 Mb/s now" });
    expect(bar.getAttribute("aria-valuenow")).toBe("65");
    expect((await button("Measure now")).getAttribute("aria-disabled")).toBe("true");
    await press("Cancel the test");
    await waitFor(() => expect(sent).toMatchObject([{ method: "DELETE", path: "/api/tests/t" }]));
  });

  test("no test starts on a line that carries a feed", async () => {
    open([{ ...surveyed({}, [8, 8, 8, 8, 8]), busy: true }], [lineTest({ state: "skipped", reason: "a feed was on the line" })]);
    await part("Measure");
    expect(await screen.findByText(/A test would fill the line and hurt it, so none can start/)).toBeTruthy();
    expect((await button("Measure now")).getAttribute("aria-disabled")).toBe("true");
    expect(screen.getByText("a feed was on the line")).toBeTruthy();
  });

  test("a refusal of the server is shown with what to do", async () => {
    open([surveyed({}, [8])]);
    refusals.set("/api/uplinks/hall/tests", {
      status: 409,
      body: {
        type: "urn:x",
        title: "x",
        status: 409,
        detail: "no reflector is known for this uplink",
        mend: "Write its address into the uplink.",
      },
    });
    await part("Measure");
    await press("Measure now");
    expect((await screen.findByRole("alert")).textContent).toBe(
      "No reflector is known for this uplink. Write its address into the uplink.",
    );
  });

  test("a plan says what it costs and proves, and is ordered as instants", async () => {
    jest.spyOn(Date, "now").mockReturnValue(Date.parse("2026-06-10T12:30:00Z"));
    open([surveyed({}, [14, 12, 15, 13, 16, 18])]);
    answers.set("POST /api/uplinks/hall/tests", []);
    await part("Measure");
    await press("Plan tests");
    await part("At these times");
    type("Times on the venue's clock", "18.00");
    expect(screen.getByText('"18.00" is not a time of day; write 18:00, 18:30.')).toBeTruthy();
    await part("Every so many minutes");
    type("From", "00:00");
    type("Until", "23:59");
    type("Every, minutes", "60");
    expect(screen.getByTestId("plan").textContent).toBe(
      "11 tests, 5 near show time. 18 more would still be missing for the next level. 11 tests send about 231.5 MB over this line.",
    );
    type("Every, minutes", "15");
    expect(screen.getByTestId("plan").textContent).toContain("45 tests, 21 near show time. 2 more would still be missing");
    type("Every, minutes", "10");
    expect(screen.getByTestId("plan").textContent).toContain("That is enough for the next level: a reserve of 20 %.");
    await press("Plan these tests");
    const times = Array.from({ length: 68 }, (_, i) => new Date(Date.parse("2026-06-10T12:40:00Z") + i * 600_000).toISOString());
    expect(sent).toMatchObject([{ path: "/api/uplinks/hall/tests", body: { kind: "plan", at: times } }]);
    jest.restoreAllMocks();
  });
});

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

describe("tests", () => {
  const openTests = async (more: Partial<ListedMeasurement> = {}) => {
    open([surveyed({}, [14, 12, 15, 13, 16])]);
    answers.set(listPath, listPage([14, 12, 15, 13, 16], more));
    await part("Tests");
  };

  test("every test is a row that says all it knows; sorting and filtering ask the server", async () => {
    await openTests();
    expect(await button("Tue, 9 Jun 26, 19:10, 14.0 Mb/s, 14 ms, loss 0.01 %, csv, counts for this show")).toBeTruthy();
    answers.set(listPath.replace("sort=time&order=desc", "sort=rate&order=desc"), listPage([16]));
    await part("Rate");
    expect(await button(/16\.0 Mb\/s/)).toBeTruthy();
    answers.set(listPath.replace("sort=time&order=desc", "sort=rate&order=asc"), listPage([12]));
    await part("Rate ↓");
    expect(await button(/12\.0 Mb\/s/)).toBeTruthy();
    answers.set(listPath.replace("sort=time&order=desc&show=all", "sort=rate&order=asc&show=excluded"), listPage([]));
    await part("Excluded");
    expect(await screen.findByText("None of the tests is of this kind.")).toBeTruthy();
  });

  test("excluding wants a reason in words", async () => {
    await openTests({ outlier: "low" });
    answers.set("PUT /api/measurements/m-0/excluded", { excluded: "x" });
    await press(/19:10/);
    expect(screen.getByText(/It counts for this show\. It lies far below the others of its hour\./)).toBeTruthy();
    await press("Exclude this test");
    expect(screen.getByText("Say it in a few words, 3 to 200 characters.")).toBeTruthy();
    type("Why it should not count", " the door was shut ");
    await press("Exclude this test");
    await waitFor(() =>
      expect(sent).toMatchObject([{ method: "PUT", path: "/api/measurements/m-0/excluded", body: { reason: "the door was shut" } }]),
    );
  });

  test("an excluded test says why, and can count again", async () => {
    await openTests({ excluded: "the cable was out", counts: false });
    answers.set("DELETE /api/measurements/m-0/excluded", {});
    await press(/19:10.*excluded/);
    expect(screen.getByText("Excluded: the cable was out. It stays on the list.")).toBeTruthy();
    await press("Let it count again");
    await waitFor(() => expect(sent).toMatchObject([{ method: "DELETE" }]));
  });

  const file = (text: string, name = "hall.csv") => ({ name, bytes: text.length, text: async () => text });
  const openImport = async (picked: unknown) => {
    await openTests();
    answers.set("POST /api/uplinks/hall/measurements/known", { known: [] });
    pickTextFile.mockResolvedValue(picked);
    await press("Import a file");
    await press("Choose a file");
  };

  test("a file is asked about, shown row by row, taken, and taken back", async () => {
    await openImport(file("when;upload;ping\n03/04/2026 19:30;12,5;14\n03/04/2026 19:30;12,5;14\n03/04/2026 20:00;fast;14\n"));
    expect(await screen.findByText('"03/04/2026 19:30" can be read in two ways. What stands first?')).toBeTruthy();
    await part("The day");
    await part("Mb/s");
    await press("Read it so");
    expect(await screen.findByText('upload: "fast" is not a number')).toBeTruthy();
    await part("1 known");
    expect(await screen.findByText("stands in this file already")).toBeTruthy();
    answers.set("POST /api/uplinks/hall/measurements/batch", { added: 1, known: 0 });
    await press("Take the test");
    expect(await screen.findByText("hall.csv: 1 added, 1 known already.")).toBeTruthy();
    const [known, batch] = sent as unknown as [
      { body: { keys: string[] } },
      { body: { measurements: unknown[]; importId: string; last: boolean } },
    ];
    expect(known.body.keys).toHaveLength(1);
    expect(batch.body).toMatchObject({ measurements: [{ takenAt: "2026-04-03T19:30:00.000Z", rateBps: 12_500_000 }], last: true });
    answers.set(`DELETE /api/uplinks/hall/imports/${batch.body.importId}`, { removed: 1 });
    await press("Undo");
    expect(await screen.findByText("The import was taken back: 1 removed.")).toBeTruthy();
  });

  test("what the server has already is not taken again", async () => {
    await openImport(file("time,rate_mbps\n2026-06-01 19:30,12\n"));
    answers.set("POST /api/uplinks/hall/measurements/known", { known: [] });
    expect(await button("Take the test")).toBeTruthy();
    answers.set("POST /api/uplinks/hall/measurements/known", { known: ["1780342200000|10|12000000|ip|||||"] });
    await press("Choose another file");
    expect(await screen.findByText("is here already")).toBeTruthy();
    expect(screen.queryByRole("button", { name: /^Take the/ })).toBeNull();
  });

  test("a file that cannot be read, and one that is too large, say so and nothing is taken", async () => {
    await openImport(file("one,two\n1,2\n"));
    expect(await screen.findByText(/This file cannot be read: the first line names no column for the time/)).toBeTruthy();
    pickTextFile.mockResolvedValue({ name: "huge.csv", bytes: 34_000_000, text: async () => "" });
    await press("Choose another file");
    expect(await screen.findByText("huge.csv is 34 MB; at most 20 MB are read. Split it and import the parts.")).toBeTruthy();
    expect(sent).toEqual([]);
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

test("a venue without an uplink says what an uplink is for; its form refuses a clock that is none", async () => {
  answers.set("GET /api/venues/v/survey", survey([]));
  show(<SurveyBoard venueId="v" eventId={null} />);
  expect(await screen.findByText(/An uplink is one way out of the venue/)).toBeTruthy();
  const done = jest.fn();
  answers.set("POST /api/venues", { id: "barn" });
  show(<VenueForm onDone={done} />);
  type("Name", "Barn");
  type("Time zone", "Moon/Crater");
  await press("Add the venue");
  expect(await screen.findByText(/not the name of a time zone/)).toBeTruthy();
  type("Time zone", "Europe/London");
  await press("Add the venue");
  await waitFor(() => expect(done).toHaveBeenCalledWith("barn"));
});
