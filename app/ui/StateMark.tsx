import type { Health } from "@ukaza/contract/air";
import { View } from "react-native";
import Svg, { Circle, Path } from "react-native-svg";
import { useTheme } from "../theme/ThemeProvider";
import { healthWord } from "../words/air";
import { Words } from "./Words";

const tones: Record<Health, string> = { steady: "text-steady", strained: "text-strained", broken: "text-broken", silent: "text-silent" };

/** The shape of a state: full disc, half-filled disc, cut disc, empty ring. Reads in grey and at 12 px. */
export function StateShape({ health, size = 16 }: { health: Health; size?: number }) {
  const { colour } = useTheme();
  const ink = colour[health];
  return (
    <Svg width={size} height={size} viewBox="0 0 16 16" aria-hidden>
      {health === "steady" ? <Circle cx={8} cy={8} r={7} fill={ink} /> : null}
      {health === "strained" ? (
        <>
          <Circle cx={8} cy={8} r={6} fill="none" stroke={ink} strokeWidth={2} />
          <Path d="M2 8 A6 6 0 0 0 14 8 Z" fill={ink} />
        </>
      ) : null}
      {health === "broken" ? (
        <>
          <Path d="M4.14 2.16 A7 7 0 0 1 13.84 11.86 Z" fill={ink} />
          <Path d="M2.16 4.14 A7 7 0 0 0 11.86 13.84 Z" fill={ink} />
        </>
      ) : null}
      {health === "silent" ? <Circle cx={8} cy={8} r={6} fill="none" stroke={ink} strokeWidth={2} /> : null}
    </Svg>
  );
}

/** A state as shape and word. */
export function StateMark({ health, word }: { health: Health; word?: string }) {
  return (
    <View className="flex-row items-center gap-2">
      <StateShape health={health} />
      <Words kind="strong" tone={tones[health]}>
        {word ?? healthWord[health]}
      </Words>
    </View>
  );
}
