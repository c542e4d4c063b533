import { readFileSync } from "node:fs";
import { join } from "node:path";
import { fireEvent, screen, within } from "@testing-library/react";
import { platformFile } from "@ukaza/contract/library";
import Platforms from "../app/platforms";
import { attributes, questions } from "../words/sheet";
import { answers, show } from "./page";

jest.mock("expo-router", () => ({ Link: ({ children }: { children: string }) => children }));

const sheets = ["halyard-relay", "oriel-public", "parishboard", "tallgate"].map(
  (name) => platformFile.parse(JSON.parse(readFileSync(join(__dirname, `../../demo/platforms/${name}.json`), "utf8"))).sheet,
);
const open = async () => {
  answers.set("GET /api/platforms", sheets);
  show(<Platforms />);
  await screen.findByText("Tallgate");
};
const pick = (name: string) => fireEvent.click(screen.getByRole("radio", { name }));

test("a sheet shows its modes, and all it says behind a tap", async () => {
  await open();
  expect(screen.getByText("3.0 Mb/s to 9.0 Mb/s, recommended 5.8 Mb/s")).toBeTruthy();
  expect(screen.queryByText("Stream key")).toBeNull();
  fireEvent.click(screen.getByRole("button", { name: "All of the rule sheet of Parishboard" }));
  expect(screen.getByText("dies when sending stops; a lasting one can be asked for")).toBeTruthy();
  expect(screen.getByText(/must call itself "Skerrow community sender"/)).toBeTruthy();
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
