import { fireEvent, screen, within } from "@testing-library/react";
import type { ListedSheet, SheetVersion } from "@ukaza/contract/library";
import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import { shippedSheets } from "../../core/test/kit";
import Platforms from "../app/platforms";
import Platform from "../app/platforms/[id]";
import { attributes, questions } from "../words/sheet";
import { answers, problem, refusals, sent, show } from "./page";

jest.mock("expo-router", () => ({
  Link: ({ children }: { children: string }) => children,
  useRouter: () => ({ push: mockPush, replace: mockPush }),
  useLocalSearchParams: () => ({ id: "parishboard" }),
}));
const mockPush = jest.fn();

const sheets = ["halyard-relay", "oriel-public", "parishboard", "tallgate"].map((id) => shippedSheets[id as keyof typeof shippedSheets]);
const listed = (sheet: RuleSheet): ListedSheet => ({ sheet, reach: { driver: "none" }, savedAt: "2026-06-01T10:00:00Z", versions: 1 });
const open = async () => {
  answers.set("GET /api/platforms", sheets.map(listed));
  show(<Platforms />);
  await screen.findByText("Tallgate");
};
const pick = (name: string) => fireEvent.click(screen.getByRole("radio", { name }));

test("the book says what each platform takes in one line", async () => {
  await open();
  expect(screen.getByText("Up to 1280×720 and 30 frames/s, 4.0 Mb/s, over RTMPS.")).toBeTruthy();
  fireEvent.click(screen.getByRole("button", { name: "Write a sheet" }));
  expect(mockPush).toHaveBeenCalledWith("/platforms/new/edit");
});

test("a sheet shows its modes and all it says, and its versions with what each changed", async () => {
  answers.set("GET /api/platforms/parishboard", listed(shippedSheets.parishboard));
  answers.set("GET /api/platforms/parishboard/account", { state: "by hand" });
  answers.set("GET /api/platforms/parishboard/versions", [
    {
      revision: 2,
      savedAt: "2026-06-02T10:00:00Z",
      checkedOn: "2026-06-02",
      checkedBy: "Ana",
      changes: [{ path: "modes[1280×720 h264 25].maxBps", before: 4_500_000, after: 4_000_000 }],
      events: [{ id: "e", name: "Concert" }],
    },
    { revision: 1, savedAt: "2026-06-01T10:00:00Z", checkedOn: "2026-06-01", checkedBy: "Ana", changes: [], events: [] },
  ] satisfies SheetVersion[]);
  show(<Platform />);
  expect(await screen.findByText("1.5 Mb/s to 4.0 Mb/s, recommended 3.0 Mb/s")).toBeTruthy();
  expect(screen.getByText("dies when sending stops; a lasting one can be asked for")).toBeTruthy();
  expect(screen.getByText(/must call itself "Skerrow community sender"/)).toBeTruthy();
  expect(await screen.findByText("Planned with it: Concert.")).toBeTruthy();
  fireEvent.click(screen.getByRole("button", { name: "Show the changes of version 2" }));
  expect(screen.getByText("Mode 1280×720 h264 25, maximum")).toBeTruthy();
  expect(screen.getByText("4.5 Mb/s → 4.0 Mb/s")).toBeTruthy();
  fireEvent.click(screen.getByRole("button", { name: "Edit from version 1" }));
  expect(mockPush).toHaveBeenLastCalledWith("/platforms/parishboard/edit?version=1");
  // Nothing goes before somebody has said so twice.
  fireEvent.click(screen.getByRole("button", { name: "Remove this platform" }));
  expect(sent).toEqual([]);
  refusals.set("/api/platforms/parishboard", { status: 409, body: problem("Concert was planned with this rule sheet") });
  fireEvent.click(screen.getByRole("button", { name: "Yes, remove it" }));
  expect(await screen.findByText(/Concert was planned with this rule sheet\./)).toBeTruthy();
});

test("who takes it: one, some, all or none", async () => {
  await open();
  pick("Compare");
  expect(screen.getByTestId("takers").textContent).toBe("Halyard Relay, Oriel Public.");
  pick("Portrait");
  expect(screen.getByTestId("takers").textContent).toBe("Tallgate.");
  pick("H.265");
  expect(screen.getByTestId("takers").textContent).toBe("None of the platforms in the book.");
});

test("what a chosen few take alike moves with the choice", async () => {
  await open();
  pick("Compare");
  expect(screen.getByTestId("alike").textContent).toBe("Largest: 1920×1080 at 60 frames/s, 8.5 Mb/s.");
  fireEvent.click(screen.getByRole("checkbox", { name: "Parishboard" }));
  expect(screen.getByTestId("alike").textContent).toBe("Largest: 1280×720 at 30 frames/s, 2.9 Mb/s.");
  fireEvent.click(screen.getByRole("checkbox", { name: "Tallgate" }));
  expect(screen.getByTestId("alike").textContent).toContain("each needs an engine of its own");
});

test("on the phone one rule stands over all platforms; every rule says something of every sheet", async () => {
  await open();
  pick("Compare");
  pick("Price");
  expect(within(screen.getByTestId("one-rule")).getByText("2.4 an hour until the last feed stops")).toBeTruthy();
  for (const a of attributes) for (const sheet of sheets) expect(a.say(sheet).length).toBeGreaterThan(1);
  // A question that all or none would answer alike for ever tells nobody anything.
  expect(questions.filter((q) => new Set(sheets.map(q.takes)).size > 1).length).toBeGreaterThanOrEqual(5);
});
