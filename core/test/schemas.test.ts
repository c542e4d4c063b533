import { readFileSync } from "node:fs";
import { join } from "node:path";
import { encoder } from "@ukaza/contract/encoder";
import { platformFile } from "@ukaza/contract/library";
import Ajv from "ajv/dist/2020";
import addFormats from "ajv-formats";
import fc from "fast-check";
import type { z } from "zod";
import { shippedKit, shippedSheets } from "./kit";

const schemaOf = (name: string): object => JSON.parse(readFileSync(join(__dirname, `../../docs/schemas/${name}.json`), "utf8")) as object;
const ajv = new Ajv({ strict: false });
addFormats(ajv);

const platforms = Object.values(shippedSheets).map((sheet) => ({ format: "ukaza-platform", version: 1, reach: { driver: "none" }, sheet }));
const kit = Object.values(shippedKit);

type Path = (string | number)[];

/** Every place within a document, the whole included. */
function placesIn(value: unknown, path: Path = []): Path[] {
  if (typeof value !== "object" || value === null) return [path];
  return [path, ...Object.entries(value).flatMap(([key, inner]) => placesIn(inner, [...path, Array.isArray(value) ? Number(key) : key]))];
}

/** A document with one place replaced, taken out (undefined) or added to. */
function changed(document: unknown, path: Path, to: unknown): unknown {
  const [head, ...rest] = path;
  if (head === undefined) return to;
  const copy = (Array.isArray(document) ? [...document] : { ...(document as object) }) as Record<string | number, unknown>;
  if (rest.length === 0 && to === undefined) {
    if (Array.isArray(copy)) copy.splice(Number(head), 1);
    else delete copy[head];
  } else copy[head] = changed(copy[head], rest, to);
  return copy;
}

const odd = fc.oneof(
  fc.constantFrom<unknown>(undefined, null, true, "", " ", "x", "25", "4.1", "rtmp", "1920×1080", -1, 0, 1, 1.5, 1e6, 1e13, [], {}),
  fc.constantFrom<unknown>("2026-02-30", "2026-06-01", "http://h", "file:///x", "a".repeat(3_000), [1, 2], ["25", "25"], {
    id: "a",
    name: "A",
  }),
  fc.jsonValue({ maxDepth: 2 }),
);

/** The same verdict from both, but for what one field says of another: JSON Schema has no words for that. */
function agree(schema: z.ZodType, name: string, documents: readonly unknown[]): void {
  const validate = ajv.compile(schemaOf(name));
  for (const document of documents) expect([schema.safeParse(document).success, validate(document)]).toEqual([true, true]);
  let refused = 0;
  fc.assert(
    fc.property(fc.constantFrom(...documents), fc.nat(), odd, fc.nat(3), fc.string(), (document, at, to, extra, key) => {
      const places = placesIn(document);
      const path = places[at % places.length] ?? [];
      const given = extra === 0 ? changed(document, [...path.slice(0, -1), `extra-${key}`], to) : changed(document, path, to);
      const ours = schema.safeParse(given);
      const theirs = validate(given);
      if (!ours.success) refused++;
      if (ours.success) expect({ given, theirs, errors: validate.errors }).toMatchObject({ theirs: true });
      else if (theirs)
        expect(ours.error.issues.map((i) => `${i.code} ${i.path.join(".")}`)).toEqual(
          ours.error.issues.map((i) => `custom ${i.path.join(".")}`),
        );
    }),
    { numRuns: 4_000, seed: 2026 },
  );
  // A corpus that is always taken would show nothing.
  expect(refused).toBeGreaterThan(1_000);
}

describe("the published JSON Schemas agree with what is read, on thousands of damaged documents", () => {
  test("rule sheets", () => agree(platformFile, "platform", platforms));
  test("encoders", () => agree(encoder, "encoder", kit));
});
