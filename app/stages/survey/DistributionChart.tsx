import type { UplinkSurvey } from "@ukaza/contract/survey";
import { BarGraph } from "../../ui/BarGraph";
import { rateText } from "../../words/units";

const MBPS = 1e6;

/** How often each rate was found; what counts for the show is filled. */
export function DistributionChart({ survey }: { survey: UplinkSurvey }) {
  const { bins } = survey;
  const mode = bins.reduce<(typeof bins)[number] | null>((top, bin) => (top === null || bin.count > top.count ? bin : top), null);
  const digits = (bins[0]?.toBps ?? 0) - (bins[0]?.fromBps ?? 0) < MBPS ? 1 : 0;
  return (
    <BarGraph
      bars={bins.map((bin) => ({ x: (bin.fromBps / MBPS).toFixed(digits), counting: bin.counting, other: bin.count - bin.counting }))}
      parts={[
        { key: "counting", name: "Counts for this show", colour: "deep" },
        { key: "other", name: "Other hours or days", colour: "rule" },
      ]}
      unit="tests, by Mb/s from"
      summary={`Distribution of ${bins.reduce((sum, bin) => sum + bin.count, 0)} tests.${mode ? ` Most often ${rateText(mode.fromBps)} to ${rateText(mode.toBps)}: ${mode.count} tests.` : ""}`}
    />
  );
}
