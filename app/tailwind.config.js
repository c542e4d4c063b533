const colours = ["paper", "sheet", "rule", "ink", "faded", "deep", "on-deep", "steady", "strained", "broken", "silent", "tally"];

/** @type {import("tailwindcss").Config} */
module.exports = {
  content: ["./app/**/*.tsx", "./ui/**/*.tsx", "./stages/**/*.tsx"],
  presets: [require("nativewind/preset")],
  theme: {
    extend: {
      colors: Object.fromEntries(colours.map((name) => [name, `rgb(var(--${name}) / <alpha-value>)`])),
      fontFamily: { words: ["Words"], strong: ["WordsStrong"], figures: ["Figures"], "figures-strong": ["FiguresStrong"] },
    },
  },
};
