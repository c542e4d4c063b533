import { useState } from "react";
import { View } from "react-native";
import { LineChart } from "react-native-chart-kit/v2";
import type { ColourName } from "../theme/colours";
import { useTheme } from "../theme/ThemeProvider";
import { Words } from "./Words";

/** One point: what stands under it on the axis, and a figure for each line. */
export type GraphPoint = { x: string } & Record<string, string | number | null>;

export interface GraphLine {
  key: string;
  name: string;
  colour: ColourName;
  dashed?: boolean;
}

interface Props {
  points: GraphPoint[];
  lines: GraphLine[];
  /** Limits drawn in with their names. */
  limits: { y: number; name: string; colour: ColourName; below?: boolean }[];
  unit: string;
  /** The same in words, for those who cannot see it. */
  summary: string;
  height?: number;
  dots?: boolean;
  /** Points without a figure are bridged rather than left open. */
  joined?: boolean;
}

/** Thin ink lines with their limits and unit; the names stand in one line above in the lines' own colours. */
export function LineGraph({ points, lines, limits, unit, summary, height = 220, dots = false, joined = false }: Props) {
  const { colour } = useTheme();
  const [width, setWidth] = useState(0);
  const highest = Math.max(0.1, ...limits.map((l) => l.y), ...points.flatMap((p) => lines.map((l) => Number(p[l.key] ?? 0))));
  return (
    <View role="img" aria-label={summary} onLayout={(e) => setWidth(Math.floor(e.nativeEvent.layout.width))}>
      <View className="flex-row flex-wrap gap-x-4">
        {lines.map((line) => (
          <View key={line.key} className="flex-row items-center gap-1">
            <View
              style={{ width: 16, borderTopWidth: 2, borderStyle: line.dashed ? "dashed" : "solid", borderColor: colour[line.colour] }}
            />
            <Words kind="small">{`${line.name}, ${unit}`}</Words>
          </View>
        ))}
      </View>
      <View style={{ height }} aria-hidden>
        {width > 0 && points.length > 1 ? (
          <LineChart
            data={points}
            xKey="x"
            width={width}
            height={height}
            theme={{
              background: colour.sheet,
              plotBackground: colour.sheet,
              grid: colour.rule,
              axis: colour.rule,
              text: colour.ink,
              mutedText: colour.faded,
              typography: { fontFamily: "Figures", axisLabelSize: 12 },
            }}
            series={lines.map((line) => ({
              yKey: line.key,
              label: line.name,
              color: colour[line.colour],
              strokeWidth: 2,
              dot: dots,
              curve: "linear" as const,
              ...(line.dashed ? { strokeDasharray: [5, 4] } : {}),
            }))}
            referenceLines={limits.map((limit) => ({
              y: limit.y,
              label: limit.name,
              color: colour[limit.colour],
              labelColor: colour.ink,
              labelFontSize: 12,
              labelPosition: "start" as const,
              labelPlacement: limit.below ? ("below" as const) : ("above" as const),
              labelContainer: { backgroundColor: colour.sheet, opacity: 0.9, paddingX: 2, paddingY: 0 },
              strokeDasharray: [6, 4],
              strokeWidth: 1.5,
            }))}
            yDomain={[0, highest * 1.12]}
            legend={false}
            tooltip={false}
            connectNulls={joined}
            formatYLabel={(value) => String(Number(value.toFixed(1)))}
          />
        ) : (
          <Words kind="faded" className="pt-8 text-center">
            Nothing to draw yet.
          </Words>
        )}
      </View>
    </View>
  );
}
