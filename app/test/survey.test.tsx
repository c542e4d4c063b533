import { screen, waitFor, within } from "@testing-library/react";
import { bondedOf, bondedVerdict } from "@ukaza/core/survey/bonded";
import { oriel } from "../../core/test/kit";
import { SurveyStage } from "../stages/survey/SurveyStage";
import { answers, now, sent, show } from "./page";
import { button, click, open, part, press, survey, surveyed, type } from "./surveyPage";

jest.mock("expo-router", () => ({ useRouter: () => ({ push: jest.fn() }) }));
jest.mock("../workers/openImport", () => jest.requireActual("../workers/openImport.ts"));
jest.mock("../data/pickFile", () => ({ pickTextFile: jest.fn() }));
jest.mock("react-native-chart-kit/v2", () => ({ LineChart: () => null, BarChart: () => null }));

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
