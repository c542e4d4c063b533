import { useState } from "react";
import { View } from "react-native";
import { LineChart } from "react-native-chart-kit/v2";
import type { ColourName } from "../theme/colours";
import { useTheme } from "../theme/ThemeProvider";
import { chartTheme } from "./chartTheme";
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
  /** A filled band between two of the points' figures. */
  band?: { from: string; to: string; name: string };
}

/** Thin ink lines with their limits and unit; the names stand in one line above in the lines' own colours. */
export function LineGraph({ points, lines, limits, unit, summary, height = 220, dots = false, joined = false, band }: Props) {
  const { colour } = useTheme();
  const [width, setWidth] = useState(0);
  const keys = [...lines.map((line) => line.key), ...(band ? [band.to] : [])];
  // The band is what is left of the upper area once the lower one is covered with paper.
  const area = (yKey: string, label: string, fill: string, opacity: number) => ({
    yKey,
    key: `band-${yKey}`,
    label,
    color: fill,
    strokeWidth: 0,
    dot: false,
    curve: "linear" as const,
    area: true,
    areaFill: { fromColor: fill, toColor: fill, fromOpacity: opacity, toOpacity: opacity },
  });
  // The paper covers the limits' own lines as well, so with a band they are drawn once more above it.
  const limitKey = (i: number) => `limit-${i}`;
  const drawn = band
    ? points.map((p) => ({ ...p, ...Object.fromEntries(limits.map((l, i) => [limitKey(i), l.y])) }) as GraphPoint)
    : points;
  const limitSeries = band
    ? limits.map((limit, i) => ({
        yKey: limitKey(i),
        label: limit.name,
        color: colour[limit.colour],
        strokeWidth: 1.5,
        strokeDasharray: [6, 4],
        dot: false,
        curve: "linear" as const,
      }))
    : [];
  const bandSeries = band ? [area(band.to, band.name, colour.deep, 0.22), area(band.from, "", colour.sheet, 1)] : [];
  const highest = Math.max(0.1, ...limits.map((l) => l.y), ...points.flatMap((p) => keys.map((key) => Number(p[key] ?? 0))));
  return (
    <View role="img" aria-label={summary} onLayout={(e) => setWidth(Math.floor(e.nativeEvent.layout.width))}>
      <View className="flex-row flex-wrap gap-x-4">
        {band ? (
          <View className="flex-row items-center gap-1">
            <View style={{ width: 16, height: 12, backgroundColor: colour.deep, opacity: 0.22 }} />
            <Words kind="small">{band.name}</Words>
          </View>
        ) : null}
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
            data={drawn}
            xKey="x"
            width={width}
            height={height}
            theme={chartTheme(colour)}
            series={[
              ...bandSeries,
              ...limitSeries,
              ...lines.map((line) => ({
                yKey: line.key,
                label: line.name,
                color: colour[line.colour],
                strokeWidth: 2,
                dot: dots,
                curve: "linear" as const,
                ...(line.dashed ? { strokeDasharray: [5, 4] } : {}),
              })),
            ]}
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
