import { spawnSync } from "node:child_process";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { problem, settings, shippedSheets } from "../../core/test/kit";

const root = join(__dirname, "../..");
const folder = mkdtempSync(join(tmpdir(), "ukaza-cli-"));
const file = (name: string, content: unknown): string => {
  const path = join(folder, name);
  writeFileSync(path, typeof content === "string" ? content : JSON.stringify(content));
  return path;
};
/** The command as a person runs it: a process of its own, from another folder. */
const ukaza = (...args: string[]) => {
  const done = spawnSync(process.execPath, [join(root, "cli/bin/ukaza.mjs"), ...args], {
    cwd: folder,
    encoding: "utf8",
    env: { ...process.env, NODE_OPTIONS: "" },
  });
  return { code: done.status, out: done.stdout, error: done.stderr };
};

test("--help and no command print the usage", () => {
  expect(ukaza("--help")).toMatchObject({ code: 0, out: expect.stringContaining("ukaza survey FILE") });
  expect(ukaza().out).toContain("exit code 2");
});

test("load prints the load at the IP layer", () => {
  const { code, out } = ukaza("load", file("settings.json", settings));
  expect(code).toBe(0);
  expect(JSON.parse(out)).toMatchObject({ loadBps: 5_319_976, videoBps: 5_000_000 });
});

test("survey reads CSV and iperf3 files together, relative to where it is called", () => {
  file("tests.csv", "time,rate_mbps\n2026-11-23 11:00,20\n2026-11-23 11:30,14\n");
  const { code, out } = ukaza(
    "survey",
    "tests.csv",
    join(root, "core/test/fixtures/hall-tcp.json"),
    "--at",
    "2026-11-23 11:30",
    "--tz",
    "Europe/London",
  );
  expect(code).toBe(0);
  expect(JSON.parse(out)).toMatchObject({
    timeZone: "Europe/London",
    result: { evidence: "few", total: 3, sustainableBps: 14_000_000, reserve: 0.5, usableBps: 7_000_000 },
  });
});

test("what a file leaves open is asked by the name of a flag, and read as told", () => {
  file("open.csv", "when;upload\n03/04/2026 19:30;12,5\n");
  const asked = ukaza("survey", "open.csv");
  expect(asked).toMatchObject({ code: 2, error: expect.stringContaining("Say which with --date-order dmy or --date-order mdy.") });
  expect(ukaza("survey", "open.csv", "--date-order", "dmy").error).toContain("--rate-unit");
  const told = ukaza("survey", "open.csv", "--date-order", "mdy", "--rate-unit", "kb/s");
  expect(JSON.parse(told.out).measurements).toMatchObject([{ takenAt: "2026-03-04T19:30:00.000Z", ownIpBps: 12_500 }]);
  expect(ukaza("survey", "open.csv", "--date-order", "ymd")).toMatchObject({ code: 2, error: expect.stringContaining("dateOrder") });
});

test("fit and check read their documents", () => {
  const fit = JSON.parse(ukaza("fit", file("problem.json", problem([6_000_000]))).out);
  expect(fit.answer).toMatchObject({
    kind: "fit",
    certificate: { proved: true },
    plan: { destinations: [{ destinationId: "oriel", bound: "uplink", settings: { width: 1920, frameRate: "25" } }] },
  });
  expect(fit.answer.certificate.boundPoints).toBe(fit.answer.plan.points);
  expect(fit.insights.oneMoreMbps).toEqual([{ uplinkId: "line-1", points: expect.any(Number) }]);
  const loud = { ...settings, audioBps: 320_000 };
  const findings = JSON.parse(ukaza("check", join(root, "demo/platforms/oriel-public.json"), file("loud.json", loud)).out);
  expect(findings).toMatchObject([{ code: "audio-over-max", level: "blocks", mend: { audioBps: 256_000 } }]);
});

test("fit --explain says it in words: what each gets, why no more, and what cannot hold together", () => {
  const explain = (p: unknown) => ukaza("fit", file("explain.json", p), "--explain").out;
  const two = problem([6_000_000], {
    destinations: ["oriel-public", "parishboard"].map((name) => ({ id: name, sheet: shippedSheets[name as "parishboard"], must: true })),
  } as never);
  const said = explain(two);
  expect(said).toMatch(/^Oriel Public: \d+×\d+, 25 frames\/s at .* Mb\/s\. From Desk encoder over line-1\. The line ends it here\.$/m);
  expect(said).toMatch(/points; no plan has more\./);
  expect(said).toMatch(/Without Parishboard the others would gain \d/);
  const thin = { ...two, uplinks: [{ id: "line-1", usableBps: 900_000 }] };
  expect(explain(thin)).toBe("These demands cannot hold together:\n- Oriel Public must be served\n- Parishboard must be served\n");
  const unknown = ukaza("fit", file("unknown.json", { ...two, destinations: [{ ...two.destinations[0], notOver: ["moon"] }] }));
  expect(unknown).toMatchObject({ code: 2, error: expect.stringContaining('there is no uplink "moon" in this problem') });
});

test.each<[string, string[], RegExp]>([
  ["an unknown command", ["fly"], /no command "fly"/],
  ["an unknown option", ["load", "--fast"], /--fast/],
  ["a missing file", ["load", "none.json"], /no such file/],
  ["too many files", ["load", "a", "b"], /wants one file, 2 given/],
  ["no file", ["survey"], /at least one file/],
  ["a wrong time zone", ["survey", "x", "--tz", "Moon/Base"], /time zone/],
  ["a wrong time", ["survey", "x", "--at", "tonight"], /not a time/],
])("%s ends with code 2 and says so on standard error", (_name, args, message) => {
  const { code, out, error } = ukaza(...args);
  expect(code).toBe(2);
  expect(out).toBe("");
  expect(error).toMatch(message);
});

test("wrong contents name their place", () => {
  expect(ukaza("load", file("wrong.json", { ...settings, videoBps: "fast" })).error).toMatch(/videoBps/);
  expect(ukaza("load", file("broken.json", "{")).error).toMatch(/not JSON/);
  expect(ukaza("survey", file("wrong.csv", "time,rate_mbps\nnow,1\n")).error).toMatch(/wrong\.csv, line 2: "now" is not a time/);
});
