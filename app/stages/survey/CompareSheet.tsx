import type { Survey, UplinkSurvey } from "@ukaza/contract/survey";
import { useState } from "react";
import { Text, View } from "react-native";
import { Choice } from "../../ui/Choice";
import { LineGraph } from "../../ui/LineGraph";
import { Words } from "../../ui/Words";
import { evidenceWord } from "../../words/survey";
import { percent, rateText } from "../../words/units";

const GB_PER_HOUR_AT_1_BPS = 3600 / 8 / 1e9;

/** Each line: what it is, how an uplink answers it. */
const lines: [string, (u: UplinkSurvey) => string][] = [
  ["Usable", (u) => (u.result.usableBps === null ? "unknown" : rateText(u.result.usableBps))],
  ["Sustainable", (u) => (u.result.sustainableBps === null ? "unknown" : rateText(u.result.sustainableBps))],
  ["Reserve", (u) => percent(u.result.reserve)],
  ["Evidence", (u) => `${evidenceWord[u.result.evidence]}, ${u.result.used} counted`],
  ["Round trip", (u) => (u.path.rttMs === null ? "unknown" : `${u.path.rttMs.toFixed(0)} ms`)],
  ["Loss", (u) => (u.path.lossRatio === null ? "unknown" : percent(u.path.lossRatio, 2))],
  ["SRT latency", (u) => `${u.path.srtLatencyMs} ms`],
  ["RTMP at most", (u) => (u.path.rtmpCapBps === null ? "no limit known" : rateText(u.path.rtmpCapBps))],
  ["Favours", (u) => (u.path.favours === "either" ? "either" : u.path.favours.toUpperCase())],
  [
    "An hour at 6 Mb/s",
    (u) => (u.uplink.metered?.pricePerGb ? (6e6 * GB_PER_HOUR_AT_1_BPS * u.uplink.metered.pricePerGb).toFixed(2) : "no price"),
  ],
];

/** Two uplinks, line by line and hour by hour. */
export function CompareSheet({ survey }: { survey: Survey }) {
  const { uplinks } = survey;
  const [left, setLeft] = useState(uplinks[0]?.uplink.id ?? "");
  const [right, setRight] = useState(uplinks[1]?.uplink.id ?? "");
  const options = uplinks.map((u) => ({ value: u.uplink.id, word: u.uplink.name }));
  const pair = [left, right].flatMap((id) => uplinks.find((u) => u.uplink.id === id) ?? []);
  const [a, b] = pair;
  if (!a || !b) return null;
  return (
    <>
      <Words kind="small">First</Words>
      <Choice label="First uplink" value={left} options={options} onChange={setLeft} />
      <Words kind="small">Second</Words>
      <Choice label="Second uplink" value={right} options={options} onChange={setRight} />
      <View role="table" aria-label={`${a.uplink.name} and ${b.uplink.name}`}>
        <View role="row" className="flex-row gap-2 border-b border-rule py-2">
          <Text role="columnheader" className="flex-1 font-words text-base text-faded" aria-label="What" />
          {pair.map((u, i) => (
            <Text
              key={`${u.uplink.id}${i === 0 ? "first" : "second"}`}
              role="columnheader"
              className="flex-1 text-right font-strong text-base text-ink"
            >
              {u.uplink.name}
            </Text>
          ))}
        </View>
        {lines.map(([name, say]) => (
          <View key={name} role="row" className="flex-row gap-2 border-b border-rule py-2">
            <Text role="rowheader" className="flex-1 font-words text-base text-faded">
              {name}
            </Text>
            <Text role="cell" className="flex-1 text-right font-words text-base text-ink">
              {say(a)}
            </Text>
            <Text role="cell" className="flex-1 text-right font-words text-base text-ink">
              {say(b)}
            </Text>
          </View>
        ))}
      </View>
      <Hours a={a} b={b} />
    </>
  );
}

function Hours({ a, b }: { a: UplinkSurvey; b: UplinkSurvey }) {
  const hours = [...new Set([...a.hours, ...b.hours].map((h) => h.hour))].sort((x, y) => x - y);
  if (hours.length < 2) return null;
  const tenth = (u: UplinkSurvey, hour: number) => {
    const found = u.hours.find((h) => h.hour === hour);
    return found ? Number((found.tenthBps / 1e6).toFixed(2)) : null;
  };
  return (
    <LineGraph
      points={hours.map((hour) => ({ x: `${String(hour).padStart(2, "0")}h`, a: tenth(a, hour), b: tenth(b, hour) }))}
      lines={[
        { key: "a", name: a.uplink.name, colour: "deep" },
        { key: "b", name: b.uplink.name, colour: "strained", dashed: true },
      ]}
      limits={[]}
      unit="Mb/s, slow tenth"
      dots
      joined
      summary={`The slow tenth of each hour's tests, ${a.uplink.name} beside ${b.uplink.name}, over ${hours.length} hours.`}
    />
  );
}
