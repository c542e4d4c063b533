import type { FeedNow, Health } from "@ukaza/contract/air";
import { View } from "react-native";
import { useSamples } from "../../data/EventStream";
import { type GraphPoint, LineGraph } from "../../ui/LineGraph";
import { Row } from "../../ui/Row";
import { SentBar } from "../../ui/SentBar";
import { StateMark } from "../../ui/StateMark";
import { Words } from "../../ui/Words";
import { adviceSentence, causeSentence } from "../../words/air";
import { percent, rateText } from "../../words/units";

/** Two minutes on the chart: enough to see a sag begin. */
const CHART_S = 120;

/** One feed: its state with the reasons, the live chart, and every figure with its unit. */
export function FeedPanel({ feed, active, other }: { feed: FeedNow; active: boolean; other: Health | null }) {
  const samples = useSamples()[feed.id] ?? [];
  const shown = samples.slice(-CHART_S);
  const last = samples.at(-1) ?? feed.last;
  const health = feed.verdict?.health ?? "silent";
  const mbps = (bps: number | null) => (bps === null ? null : Number((bps / 1e6).toFixed(3)));
  const count = shown.length;
  const points: GraphPoint[] = shown.map((s, i) => ({
    x: i === count - 1 ? "now" : `−${count - 1 - i} s`,
    sent: mbps(s.sentBps),
    received: mbps(s.receivedBps),
  }));
  const unknown = "not known";
  return (
    <View className="gap-3 border-b border-rule pb-4" testID={`feed-${feed.role}`}>
      <View className="flex-row items-center justify-between gap-2">
        <Words
          kind="strong"
          className="shrink"
        >{`${feed.role === "main" ? "Main" : "Backup"}: ${feed.encoderName} over ${feed.uplinkName}${active ? " (viewers have this)" : ""}`}</Words>
        <StateMark health={health} />
      </View>
      {feed.verdict && health !== "steady" ? <Words>{causeSentence(feed.verdict)}</Words> : null}
      {feed.verdict && active && adviceSentence(feed.verdict, other) ? (
        <Words kind="strong">{adviceSentence(feed.verdict, other)}</Words>
      ) : null}
      <SentBar sentBps={last?.sentBps ?? null} targetBps={feed.targetBps} health={health} at={last?.at ?? null} />
      <LineGraph
        points={points}
        lines={[
          { key: "sent", name: "Sent", colour: "ink" },
          { key: "received", name: "Received", colour: "steady", dashed: true },
        ]}
        limits={[{ y: feed.targetBps / 1e6, name: `target ${(feed.targetBps / 1e6).toFixed(1)}`, colour: "faded" }]}
        unit="Mb/s"
        height={180}
        summary={
          last
            ? `Last ${count} s. Now sent ${last.sentBps === null ? unknown : rateText(last.sentBps)}, received ${last.receivedBps === null ? unknown : rateText(last.receivedBps)}, target ${rateText(feed.targetBps)}.`
            : "No samples yet."
        }
      />
      {last ? (
        <View>
          <Row label="Received">{last.receivedBps === null ? unknown : rateText(last.receivedBps)}</Row>
          <Row label="Queue in the encoder">{last.queueMs === null ? unknown : `${Math.round(last.queueMs)} ms`}</Row>
          <Row label="Round trip">{last.rttMs === null ? unknown : `${Math.round(last.rttMs)} ms`}</Row>
          <Row label="Sent again">{last.retransmittedShare === null ? unknown : percent(last.retransmittedShare, 2)}</Row>
          <Row label="Frames dropped in this second">{last.framesDropped === null ? unknown : last.framesDropped.toFixed(0)}</Row>
          <Row label="Encoder load">{last.encoderLoad === null ? unknown : percent(last.encoderLoad)}</Row>
          <Row label="Sound">{last.audioDb === null ? unknown : `${last.audioDb.toFixed(0)} dB`}</Row>
          <Row label="Reconnects">{last.reconnects === null ? unknown : String(last.reconnects)}</Row>
          <Row label="The platform says">{last.platform ?? "nothing yet"}</Row>
        </View>
      ) : null}
    </View>
  );
}
