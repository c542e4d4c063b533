import { Link } from "expo-router";
import type { ReactNode } from "react";
import { ScrollView, Text, View } from "react-native";
import { ThemeSwitch } from "./ThemeSwitch";
import { Words } from "./Words";

const places = [
  { href: "/", word: "Events" },
  { href: "/venues", word: "Venues" },
  { href: "/platforms", word: "Platforms" },
  { href: "/kit", word: "Kit" },
] as const;

/** The frame of everything outside an event: the short list of places, and one of them. */
export function Shelf({
  here,
  children,
  wide = false,
  title = true,
}: {
  here: (typeof places)[number]["word"];
  children: ReactNode;
  /** Takes the room of a wide screen. */
  wide?: boolean;
  /** Whether the place's word is the screen's title. */
  title?: boolean;
}) {
  return (
    <ScrollView
      className="flex-1 bg-paper"
      contentContainerClassName={`mx-auto w-full gap-4 p-4 pb-12 ${wide ? "max-w-[1320px]" : "max-w-[900px]"}`}
    >
      <View className="flex-row items-center justify-between">
        <Text className="font-strong text-lg text-deep">Ukaza</Text>
        <ThemeSwitch />
      </View>
      <View role="navigation" aria-label="Places" className="flex-row flex-wrap gap-x-5 border-b border-rule">
        {places.map((place) => (
          <Link
            key={place.href}
            href={place.href}
            aria-current={place.word === here ? "page" : undefined}
            className={`min-h-[44px] py-3 font-words text-base ${place.word === here ? "border-b-4 border-deep font-strong text-ink" : "text-faded"}`}
          >
            {place.word}
          </Link>
        ))}
      </View>
      <View role="main" className="gap-4">
        {title ? <Words kind="title">{here}</Words> : null}
        {children}
      </View>
    </ScrollView>
  );
}
