import type { ReactNode } from "react";
import { Text } from "react-native";

const kinds = {
  title: "font-strong text-[26px] leading-8",
  heading: "font-strong text-[19px] leading-6",
  body: "font-words text-base leading-6",
  strong: "font-strong text-base leading-6",
  faded: "font-words text-base leading-6",
  small: "font-words text-sm leading-5",
} as const;

const levels: Partial<Record<keyof typeof kinds, number>> = { title: 1, heading: 2 };

/** Text in one of our few sizes. Titles and headings are headings for screen readers too. */
export function Words({
  kind = "body",
  tone,
  className = "",
  children,
  testID,
}: {
  kind?: keyof typeof kinds;
  tone?: string;
  className?: string;
  children: ReactNode;
  testID?: string;
}) {
  const level = levels[kind];
  const colour = tone ?? (kind === "faded" || kind === "small" ? "text-faded" : "text-ink");
  return (
    <Text testID={testID} className={`${kinds[kind]} ${colour} ${className}`} {...(level ? { role: "heading", "aria-level": level } : {})}>
      {children}
    </Text>
  );
}
