import type { UplinkSurvey } from "@ukaza/contract/survey";
import { byHour, type HourBand } from "@ukaza/core/survey/hourly";
import { useMemo } from "react";
import { LineGraph } from "../../ui/LineGraph";
import { rateText } from "../../words/units";

const mbps = (bps: number) => Number((bps / 1e6).toFixed(2));

/** A point for every hour from the first to the last, so that the axis is even; hours without a test hold none. */
function everyHour(hours: HourBand[]) {
  const first = hours[0]?.hour ?? 0;
  const last = hours.at(-1)?.hour ?? 0;
  return Array.from({ length: last - first + 1 }, (_, i) => {
    const found = hours.find((h) => h.hour === first + i);
    return {
      x: `${String(first + i).padStart(2, "0")}h`,
      median: found ? mbps(found.medianBps) : null,
      least: found ? mbps(found.leastBps) : null,
    };
  });
}

/** The least and the middle rate of each hour, with the sustainable and the usable rate drawn in. */
export function HourChart({ survey, timeZone }: { survey: UplinkSurvey; timeZone: string }) {
  const { measurements, result } = survey;
  const hours = useMemo(() => byHour(measurements, timeZone), [measurements, timeZone]);
  const limits = [
    ...(result.sustainableBps === null
      ? []
      : [{ y: mbps(result.sustainableBps), name: `sustainable ${mbps(result.sustainableBps).toFixed(1)}`, colour: "faded" as const }]),
    ...(result.usableBps === null
      ? []
      : [{ y: mbps(result.usableBps), name: `usable ${mbps(result.usableBps).toFixed(1)}`, colour: "deep" as const, below: true }]),
  ];
  const lowest = hours.reduce<(typeof hours)[number] | null>((low, h) => (low === null || h.leastBps < low.leastBps ? h : low), null);
  return (
    <LineGraph
      points={everyHour(hours)}
      lines={[
        { key: "median", name: "Middle", colour: "ink" },
        { key: "least", name: "Least", colour: "strained", dashed: true },
      ]}
      limits={limits}
      unit="Mb/s"
      dots
      joined
      summary={`Rate by hour of day over ${hours.length} hours.${lowest ? ` Lowest: ${rateText(lowest.leastBps)} in the hour from ${lowest.hour}:00.` : ""}${result.usableBps === null ? "" : ` Usable ${rateText(result.usableBps)}.`}`}
    />
  );
}
