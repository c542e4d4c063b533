import { useState } from "react";
import { View } from "react-native";
import { BarChart } from "react-native-chart-kit/v2";
import type { ColourName } from "../theme/colours";
import { useTheme } from "../theme/ThemeProvider";
import { chartTheme } from "./chartTheme";
import { Words } from "./Words";

type Bar = { x: string } & Record<string, string | number>;

/** Bars stacked of parts; the parts' names stand above in their colours. */
export function BarGraph({
  bars,
  parts,
  unit,
  summary,
  height = 220,
}: {
  bars: Bar[];
  parts: { key: string; name: string; colour: ColourName }[];
  unit: string;
  summary: string;
  height?: number;
}) {
  const { colour } = useTheme();
  const [width, setWidth] = useState(0);
  return (
    <View role="img" aria-label={summary} onLayout={(e) => setWidth(Math.floor(e.nativeEvent.layout.width))}>
      <View className="flex-row flex-wrap gap-x-4">
        {parts.map((part) => (
          <View key={part.key} className="flex-row items-center gap-1">
            <View className="border border-faded" style={{ width: 12, height: 12, backgroundColor: colour[part.colour] }} />
            <Words kind="small">{part.name}</Words>
          </View>
        ))}
      </View>
      <Words kind="small">{unit}</Words>
      <View style={{ height }} aria-hidden>
        {width > 0 && bars.length > 0 ? (
          <BarChart
            data={bars}
            xKey="x"
            width={width}
            height={height}
            mode="stacked"
            theme={chartTheme(colour)}
            series={parts.map((part) => ({ yKey: part.key, label: part.name, color: colour[part.colour] }))}
            barRadius={0}
            legend={false}
            tooltip={false}
            formatYLabel={(value) => String(Math.round(value))}
          />
        ) : null}
      </View>
    </View>
  );
}
