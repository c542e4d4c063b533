import { View } from "react-native";
import Svg, { G, Line, Path, Rect, Text as SvgText } from "react-native-svg";
import { useTheme } from "../theme/ThemeProvider";
import { rateText } from "../words/units";
import { Words } from "./Words";

export interface Cargo {
  name: string;
  loadBps: number;
}

interface Props {
  name: string;
  usableBps: number;
  sustainableBps: number;
  cargo: Cargo[];
}

const WIDTH = 340;
const HEIGHT = 150;
/** The hull's inner sides and floor, and how high the load is drawn. */
const LEFT = 46;
const RIGHT = 294;
const FLOOR = 128;
const TOP = 26;

/**
 * An uplink that carries feeds: a hull from the side, each feed a block as large as its load, the waterline the
 * usable rate, a dashed mark above it the sustainable rate. What is over the waterline is awash.
 */
export function LoadLine({ name, usableBps, sustainableBps, cargo }: Props) {
  const { colour } = useTheme();
  const loadBps = cargo.reduce((sum, c) => sum + c.loadBps, 0);
  const overBps = Math.max(0, loadBps - usableBps);
  const top = Math.max(sustainableBps, loadBps, 1) * 1.08;
  const y = (bps: number) => FLOOR - (bps / top) * (FLOOR - TOP);
  const waterline = y(usableBps);
  const sides = cargo.map((c, i) => ({ ...c, from: cargo.slice(0, i).reduce((sum, d) => sum + d.loadBps, 0) }));
  const summary = `${name}: ${cargo.length === 0 ? "no load" : `load ${rateText(loadBps)}`} of ${rateText(usableBps)} usable, ${rateText(sustainableBps)} sustainable.${overBps > 0 ? ` Over by ${rateText(overBps)}.` : ""}`;
  return (
    <View role="img" aria-label={summary} testID="load-line">
      <View className="flex-row items-baseline justify-between">
        <Words kind="strong">{name}</Words>
        <Words kind="small" tone={overBps > 0 ? "text-broken" : "text-faded"}>
          {overBps > 0 ? `over by ${rateText(overBps)}` : `${rateText(Math.max(0, usableBps - loadBps))} free`}
        </Words>
      </View>
      <Svg width="100%" height={HEIGHT} viewBox={`0 0 ${WIDTH} ${HEIGHT}`} aria-hidden>
        <Path
          d={`M16 ${TOP - 8} L30 ${FLOOR - 6} Q34 ${FLOOR + 8} 50 ${FLOOR + 8} L290 ${FLOOR + 8} Q306 ${FLOOR + 8} 312 ${FLOOR - 6} L330 ${TOP - 16}`}
          fill="none"
          stroke={colour.ink}
          strokeWidth={2}
        />
        {sides.map((c) => {
          const low = y(c.from);
          const high = y(c.from + c.loadBps);
          const dryTop = Math.max(high, waterline);
          return (
            <G key={c.name}>
              {low > dryTop ? (
                <Rect
                  x={LEFT}
                  y={dryTop}
                  width={RIGHT - LEFT}
                  height={low - dryTop}
                  fill={colour.deep}
                  fillOpacity={0.85}
                  stroke={colour.sheet}
                  strokeWidth={1.5}
                />
              ) : null}
              {high < waterline ? (
                <Rect
                  x={LEFT}
                  y={high}
                  width={RIGHT - LEFT}
                  height={Math.min(low, waterline) - high}
                  fill={colour.broken}
                  stroke={colour.sheet}
                  strokeWidth={1.5}
                />
              ) : null}
              {low - high >= 15 ? (
                <SvgText
                  x={(LEFT + RIGHT) / 2}
                  y={(low + high) / 2 + 5}
                  textAnchor="middle"
                  fontSize={13}
                  fontFamily="Words"
                  fill={colour["on-deep"]}
                >{`${c.name} ${rateText(c.loadBps)}`}</SvgText>
              ) : null}
            </G>
          );
        })}
        <Line x1={4} x2={WIDTH - 4} y1={waterline} y2={waterline} stroke={overBps > 0 ? colour.broken : colour.ink} strokeWidth={2} />
        <SvgText
          x={RIGHT}
          y={waterline - 5}
          textAnchor="end"
          fontSize={12}
          fontFamily="Words"
          fill={colour.ink}
        >{`usable ${rateText(usableBps)}`}</SvgText>
        <Line
          x1={4}
          x2={WIDTH - 4}
          y1={y(sustainableBps)}
          y2={y(sustainableBps)}
          stroke={colour.faded}
          strokeWidth={1.5}
          strokeDasharray="5 4"
        />
        <SvgText
          x={LEFT}
          y={y(sustainableBps) - 5}
          fontSize={12}
          fontFamily="Words"
          fill={colour.faded}
        >{`sustainable ${rateText(sustainableBps)}`}</SvgText>
      </Svg>
    </View>
  );
}
