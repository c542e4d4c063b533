import type { Report } from "@ukaza/contract/wrap";
import { writeCsv } from "../formats/csv";

/** A report as CSV, one figure a row: section, what, feed or number, value, unit. Times are ISO 8601. */
export function reportCsv(report: Report): string {
  const rows: (string | number | null)[][] = [];
  const put = (section: string, what: string, of: string, value: string | number | null, unit: string) =>
    rows.push([section, what, of, value, unit]);
  put("event", "name", "", report.eventName, "");
  put("event", "venue", "", report.venueName, "");
  put("event", "figures from stand-ins", "", report.standins ? "yes" : "no", "");
  put("planned", "start", "", report.planned.start, "time");
  put("planned", "end", "", report.planned.end, "time");
  put("planned", "length", "", report.planned.seconds, "s");
  put("planned", "data", "", report.planned.dataBytes, "bytes");
  put("actual", "public", "", report.actual.publicAt, "time");
  put("actual", "ended", "", report.actual.endedAt, "time");
  put("actual", "length", "", report.actual.seconds, "s");
  put("actual", "data", "", report.dataBytes, "bytes");
  put("actual", "availability", "", report.availability, "ratio");
  put("actual", "seconds without a sample", "", report.unsampledS, "s");
  put("actual", "switches", "", report.switches, "");
  for (const [health, seconds] of Object.entries(report.secondsBy)) put("health", health, "", seconds, "s");
  report.incidents.forEach((incident, i) => {
    const of = String(i + 1);
    put("incident", "start", of, incident.startedAt, "time");
    put("incident", "end", of, incident.endedAt, "time");
    put("incident", "worst", of, incident.worst, "");
    put("incident", "cause", of, incident.cause, "");
    for (const { at, decision } of incident.actions)
      put("incident", `${decision.kind} to ${decision.to} (${decision.reason})`, of, at, "time");
  });
  for (const feed of report.feeds) {
    const of = `${feed.role} over ${feed.uplinkName}`;
    put("feed", "target", of, feed.targetBps, "bit/s");
    put("feed", "mean sent", of, feed.meanSentBps === null ? null : Math.round(feed.meanSentBps), "bit/s");
    put("feed", "lowest sent", of, feed.lowestSentBps, "bit/s");
    put("feed", "sent", of, feed.sentBytes, "bytes");
    for (const point of feed.points) put("bitrate", point.at, of, point.sentBps === null ? null : Math.round(point.sentBps), "bit/s");
  }
  return writeCsv(["section", "what", "of", "value", "unit"], rows);
}
