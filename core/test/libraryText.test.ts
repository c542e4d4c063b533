import fc from "fast-check";
import { asLibraryFile, readJsonText } from "../formats/libraryText";

describe("the text of a file from outside", () => {
  test.each([
    ["", /empty/],
    ["  \n", /empty/],
    ['{\n  "format": "x",\n  "version" 1\n}', /not whole JSON at line 3, column 13/],
    ['{"format": "ukaza-plat', /not whole JSON/],
    ["{'format': 1}", /line 1, column 2/],
    ["<!doctype html>", /file of another kind/],
    [`${"[".repeat(100_000)}${"]".repeat(100_000)}`, /more than 40 levels deep at line 1, column 41/],
    ['{"a":'.repeat(60), /more than 40 levels deep/],
  ])("%j says what is wrong and where", (text, said) => {
    const { fault } = readJsonText(text);
    expect(fault?.detail).toMatch(said);
    expect(fault?.mend.length).toBeGreaterThan(10);
  });

  test("brackets within strings are no depth, and a mark of byte order is passed over", () => {
    expect(readJsonText(`\uFEFF{"a":"${"[{".repeat(200)} \\" }"}`).value).toEqual({ a: `${"[{".repeat(200)} " }` });
  });

  test("it reads whatever JSON writes, and never throws on anything else", () => {
    fc.assert(
      fc.property(fc.jsonValue({ maxDepth: 6 }), (value) =>
        expect(readJsonText(JSON.stringify(value)).value).toEqual(JSON.parse(JSON.stringify(value))),
      ),
    );
    fc.assert(fc.property(fc.string(), (text) => void readJsonText(text)));
  });

  test("a bare sheet is read as a platform that nothing reaches", () => {
    const sheet = { format: "ukaza-rule-sheet", modes: [] };
    expect(asLibraryFile(sheet)).toEqual({ format: "ukaza-platform", version: 1, reach: { driver: "none" }, sheet });
    for (const other of [null, 3, [], { format: "ukaza-encoder" }]) expect(asLibraryFile(other)).toBe(other);
  });
});
