/** Colours by name, as they are set in the look: a harbour office by day, lamplight by night. */
export const day = {
  paper: "#F7F4EC",
  sheet: "#FFFDF7",
  rule: "#D9D2C0",
  ink: "#1B2430",
  faded: "#5B6472",
  deep: "#0F4C5C",
  "on-deep": "#FFFDF7",
  steady: "#1F6F5C",
  strained: "#8F5400",
  broken: "#A3262A",
  silent: "#5F6673",
  tally: "#A3262A",
} as const;

export type ColourName = keyof typeof day;

export const night: Record<ColourName, string> = {
  paper: "#10161C",
  sheet: "#172028",
  rule: "#2B3742",
  ink: "#EDE7D8",
  faded: "#A9B0B8",
  deep: "#6FC3D0",
  "on-deep": "#10161C",
  steady: "#6CC5AC",
  strained: "#E0A95A",
  broken: "#F0868A",
  silent: "#A3ABB8",
  tally: "#F0868A",
};

/** "#0F4C5C" as "15 76 92", the form that CSS variables hold. */
export function channels(hex: string): string {
  return [1, 3, 5].map((at) => Number.parseInt(hex.slice(at, at + 2), 16)).join(" ");
}
