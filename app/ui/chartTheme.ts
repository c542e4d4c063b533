import type { ColourName } from "../theme/colours";

/** Our paper and ink for every chart. */
export const chartTheme = (colour: Record<ColourName, string>) => ({
  background: colour.sheet,
  plotBackground: colour.sheet,
  grid: colour.rule,
  axis: colour.rule,
  text: colour.ink,
  mutedText: colour.faded,
  typography: { fontFamily: "Figures", axisLabelSize: 12 },
});
