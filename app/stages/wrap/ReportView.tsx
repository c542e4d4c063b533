import type { FeedReport, Report } from "@ukaza/contract/wrap";
import { View } from "react-native";
import { download } from "../../data/download";
import { Button } from "../../ui/Button";
import { Figure } from "../../ui/Figure";
import { LineGraph } from "../../ui/LineGraph";
import { Panel } from "../../ui/Panel";
import { Row } from "../../ui/Row";
import { StateMark } from "../../ui/StateMark";
import { useWide } from "../../ui/useWide";
import { Words } from "../../ui/Words";
import { causeSentence, decisionSentence, healthWord } from "../../words/air";
import { clock, dataText, percent, rateText, timeText } from "../../words/units";

/** Planned against actual, availability, incidents, bitrates and data. */
export function ReportView({ report }: { report: Report }) {
  const wide = useWide();
  return (
    <View className={wide ? "flex-row items-start gap-4" : "gap-4"}>
      <View className="min-w-0 flex-1 gap-4">
        <Summary report={report} />
        <Incidents report={report} />
      </View>
      <View className={wide ? "w-[520px] gap-4" : "gap-4"}>
        {report.feeds.map((feed) => (
          <FeedChart key={feed.feedId} feed={feed} timeZone={report.timeZone} />
        ))}
      </View>
    </View>
  );
}

function Summary({ report }: { report: Report }) {
  const { planned, actual, secondsBy, timeZone } = report;
  const time = (instant: string | null) => (instant ? timeText(instant, timeZone, true) : "not yet");
  return (
    <Panel title="Report">
      <View className="flex-row flex-wrap justify-between gap-4">
        <Figure
          label="Availability"
          shown={{ value: report.availability === null ? "–" : (report.availability * 100).toFixed(2), unit: "%" }}
          size="large"
          tone="text-deep"
          testID="availability"
        />
        <Figure label="On air" shown={{ value: clock(actual.seconds), unit: "" }} size="large" />
      </View>
      <View>
        <Row label="Public">{`${time(actual.publicAt)} (planned ${timeText(planned.start, timeZone)})`}</Row>
        <Row label="Ended">{`${time(actual.endedAt)} (planned ${timeText(planned.end, timeZone)})`}</Row>
        <Row label="Length">{`${clock(actual.seconds)} (planned ${clock(planned.seconds)})`}</Row>
        <Row label="Data sent">{`${dataText(report.dataBytes)}${planned.dataBytes === null ? "" : ` (planned ${dataText(planned.dataBytes)})`}`}</Row>
        <Row label="Viewers had a feed that was">
          {(["steady", "strained", "broken", "silent"] as const)
            .filter((h) => secondsBy[h] > 0)
            .map((h) => `${h} ${clock(secondsBy[h])}`)
            .join(", ") || "–"}
        </Row>
        <Row label="Seconds nobody watched over">{`${report.unsampledS} s`}</Row>
        <Row label="Switches">{String(report.switches)}</Row>
      </View>
      <Words kind="small">{`Availability is the share of the public time in which the feed viewers had was steady or strained; seconds without a verdict count against it.${report.standins ? " All figures come from simulated stand-ins." : ""}`}</Words>
      <View className="flex-row flex-wrap gap-2">
        <Button label="Download the report as JSON" onPress={() => download(`/events/${report.eventId}/report.json`)}>
          Download JSON
        </Button>
        <Button label="Download the report as CSV" onPress={() => download(`/events/${report.eventId}/report.csv`)}>
          Download CSV
        </Button>
      </View>
    </Panel>
  );
}

function Incidents({ report }: { report: Report }) {
  const { incidents, timeZone } = report;
  return (
    <Panel title={`Incidents (${incidents.length})`}>
      {incidents.length === 0 ? <Words kind="faded">None.</Words> : null}
      {incidents.map((i) => (
        <View key={i.id} className="gap-1 border-b border-rule pb-3">
          <View className="flex-row items-center justify-between gap-2">
            <Words kind="strong">{`${timeText(i.startedAt, timeZone, true)}${i.endedAt ? `, for ${clock((Date.parse(i.endedAt) - Date.parse(i.startedAt)) / 1000)}` : ", still open"}`}</Words>
            <StateMark health={i.worst} word={`At worst ${healthWord[i.worst].toLowerCase()}`} />
          </View>
          <Words>{causeSentence(i)}</Words>
          {i.actions.map((a) => (
            <Words key={a.at} kind="faded">{`${timeText(a.at, timeZone, true)} ${decisionSentence(a.decision)}`}</Words>
          ))}
        </View>
      ))}
    </Panel>
  );
}

function FeedChart({ feed, timeZone }: { feed: FeedReport; timeZone: string }) {
  const mbps = (bps: number | null) => (bps === null ? null : Number((bps / 1e6).toFixed(3)));
  const name = `${feed.role === "main" ? "Main" : "Backup"} feed over ${feed.uplinkName}`;
  return (
    <Panel title={name}>
      <LineGraph
        points={feed.points.map((p) => ({ x: timeText(p.at, timeZone), sent: mbps(p.sentBps), received: mbps(p.receivedBps) }))}
        lines={[{ key: "sent", name: "Sent", colour: "ink" }]}
        limits={[{ y: feed.targetBps / 1e6, name: `target ${(feed.targetBps / 1e6).toFixed(1)}`, colour: "faded" }]}
        unit="Mb/s"
        summary={`${name}: mean ${feed.meanSentBps === null ? "unknown" : rateText(feed.meanSentBps)}, target ${rateText(feed.targetBps)}.`}
      />
      <View>
        <Row label="Sent on average">
          {feed.meanSentBps === null
            ? "–"
            : `${rateText(feed.meanSentBps)} of ${rateText(feed.targetBps)} (${percent(feed.meanSentBps / feed.targetBps)})`}
        </Row>
        <Row label="Lowest second">{feed.lowestSentBps === null ? "–" : rateText(feed.lowestSentBps)}</Row>
        <Row label="Data">{dataText(feed.sentBytes)}</Row>
      </View>
    </Panel>
  );
}
