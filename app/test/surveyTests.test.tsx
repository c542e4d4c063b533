import { screen, waitFor } from "@testing-library/react";
import type { LineTest } from "@ukaza/contract/lineTest";
import type { ListedMeasurement } from "@ukaza/contract/survey";
import { SurveyBoard } from "../stages/survey/SurveyBoard";
import { VenueForm } from "../stages/venues/VenueForm";
import { answers, refusals, sent, show } from "./page";
import { button, listPage, listPath, open, part, press, survey, surveyed, type } from "./surveyPage";

jest.mock("expo-router", () => ({ useRouter: () => ({ push: jest.fn() }) }));
jest.mock("../workers/openImport", () => jest.requireActual("../workers/openImport.ts"));
jest.mock("../data/pickFile", () => ({ pickTextFile: jest.fn() }));
jest.mock("react-native-chart-kit/v2", () => ({ LineChart: () => null, BarChart: () => null }));
const { pickTextFile } = jest.requireMock("../data/pickFile") as { pickTextFile: jest.Mock };

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
