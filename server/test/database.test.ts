import { PassThrough } from "node:stream";
import type { Sample } from "@ukaza/contract/air";
import pino from "pino";
import { type Db, openDb } from "../db/open";
import { importDocument } from "../library/importDocument";
import { insertSamples, readSamples, sampleStepS, thinFinished } from "../live/store";
import { logOptions } from "../start";
import { demoFile } from "./world";

let db: Db;
beforeAll(async () => {
  db = await openDb(null);
  const at = "2026-06-10T12:00:00Z";
  for (const file of [
    "venues/st-orrans-chapel.json",
    "platforms/oriel-public.json",
    "kit/desk-encoder.json",
    "records/choral-evensong.json",
  ]) {
    const { importFile } = await import("@ukaza/contract/library");
    await importDocument(db, importFile.parse(demoFile(file)), at);
  }
});
afterAll(() => db.close());

const EVER = "1970-01-01T00:00:00Z";

test("a sample that is there already stays as it is", async () => {
  const [first] = await readSamples(db, "choral-evensong", EVER);
  const before = (await readSamples(db, "choral-evensong", EVER)).length;
  await insertSamples(db, [{ ...(first as Sample), sentBps: 1 }]);
  const after = await readSamples(db, "choral-evensong", EVER);
  expect(after).toHaveLength(before);
  expect(after[0]?.sentBps).toBe(first?.sentBps);
});

test("samples of events long finished keep one point for every ten seconds, with the same mean", async () => {
  const mean = (samples: Sample[]) => samples.reduce((sum, s) => sum + (s.sentBps ?? 0), 0) / samples.length;
  const before = await readSamples(db, "choral-evensong", EVER);
  await thinFinished(db, "2026-06-01T00:00:00Z");
  expect(await sampleStepS(db, "choral-evensong")).toBe(1);
  await thinFinished(db, "2026-06-20T00:00:00Z");
  const after = await readSamples(db, "choral-evensong", EVER);
  expect(await sampleStepS(db, "choral-evensong")).toBe(10);
  expect(after.length).toBeGreaterThan(before.length / 10 - 1);
  expect(after.length).toBeLessThan(before.length / 10 + 4);
  expect(Math.abs(mean(after) / mean(before) - 1)).toBeLessThan(0.01);
});

test("secrets never reach the log", () => {
  const stream = new PassThrough();
  const log = pino(logOptions("info"), stream);
  log.info(
    { key: "abcd-efgh", ingest: { key: "abcd-efgh", keySealed: "abcd-efgh" }, a: { b: { key: "abcd-efgh" } }, password: "abcd-efgh" },
    "told",
  );
  const written = String(stream.read());
  expect(written).toContain("told");
  expect(written).not.toContain("abcd-efgh");
});
