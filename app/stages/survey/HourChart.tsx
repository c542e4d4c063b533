import type { HourBand, UplinkSurvey } from "@ukaza/contract/survey";
import { LineGraph } from "../../ui/LineGraph";
import { rateText } from "../../words/units";

const mbps = (bps: number) => Number((bps / 1e6).toFixed(2));

/** A point for every hour from the first to the last, so that the axis is even; hours without a test hold none. */
function everyHour(hours: readonly HourBand[]) {
  const first = hours[0]?.hour ?? 0;
  const last = hours.at(-1)?.hour ?? 0;
  return Array.from({ length: last - first + 1 }, (_, i) => {
    const found = hours.find((h) => h.hour === first + i);
    return {
      x: `${String(first + i).padStart(2, "0")}h`,
      most: found ? mbps(found.ninetiethBps) : null,
      median: found ? mbps(found.medianBps) : null,
      tenth: found ? mbps(found.tenthBps) : null,
    };
  });
}

/** The band in which eight of ten tests of each hour lie, its middle, and the sustainable and usable rate drawn in. */
export function HourChart({ survey }: { survey: UplinkSurvey }) {
  const { hours, result } = survey;
  const limits = [
    ...(result.sustainableBps === null
      ? []
      : [{ y: mbps(result.sustainableBps), name: `sustainable ${mbps(result.sustainableBps).toFixed(1)}`, colour: "faded" as const }]),
    ...(result.usableBps === null
      ? []
      : [{ y: mbps(result.usableBps), name: `usable ${mbps(result.usableBps).toFixed(1)}`, colour: "deep" as const, below: true }]),
  ];
  const lowest = hours.reduce<HourBand | null>((low, h) => (low === null || h.tenthBps < low.tenthBps ? h : low), null);
  return (
    <LineGraph
      points={everyHour(hours)}
      band={{ from: "tenth", to: "most", name: "8 of 10 tests" }}
      lines={[
        { key: "median", name: "Middle", colour: "ink" },
        { key: "tenth", name: "Slow tenth", colour: "strained", dashed: true },
      ]}
      limits={limits}
      unit="Mb/s"
      dots
      joined
      summary={`Rate by hour of day over ${hours.length} hours.${lowest ? ` Lowest: a tenth under ${rateText(lowest.tenthBps)} in the hour from ${lowest.hour}:00.` : ""}${result.usableBps === null ? "" : ` Usable ${rateText(result.usableBps)}.`}`}
    />
  );
}
