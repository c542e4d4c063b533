import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { encoder } from "@ukaza/contract/encoder";
import { event } from "@ukaza/contract/event";
import { fitProblem } from "@ukaza/contract/fit";
import { settingsSheet } from "@ukaza/contract/fitChoice";
import { fitReport } from "@ukaza/contract/fitPlan";
import { platformFile } from "@ukaza/contract/library";
import { settings } from "@ukaza/contract/settings";
import { measurementsFile } from "@ukaza/contract/survey";
import { venue } from "@ukaza/contract/venue";
import { eventRecord, report } from "@ukaza/contract/wrap";
import { z } from "zod";

const documents = {
  settings,
  encoder,
  event,
  venue,
  measurements: measurementsFile,
  platform: platformFile,
  "fit-problem": fitProblem,
  "fit-answer": fitReport,
  "settings-sheet": settingsSheet,
  report,
  "event-record": eventRecord,
};

/** JSON Schemas of every file that Ukaza reads or writes, by path. */
export function schemaFiles(): Record<string, string> {
  return Object.fromEntries(
    Object.entries(documents).map(([name, schema]) => [
      `docs/schemas/${name}.json`,
      `${JSON.stringify(z.toJSONSchema(schema, { io: "input", unrepresentable: "any" }), null, 2)}\n`,
    ]),
  );
}

if (require.main === module) {
  for (const [path, text] of Object.entries(schemaFiles())) writeFileSync(join(__dirname, "..", path), text);
}
