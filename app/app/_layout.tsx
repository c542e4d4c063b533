import { AtkinsonHyperlegibleMono_400Regular } from "@expo-google-fonts/atkinson-hyperlegible-mono/400Regular";
import { AtkinsonHyperlegibleMono_600SemiBold } from "@expo-google-fonts/atkinson-hyperlegible-mono/600SemiBold";
import { AtkinsonHyperlegibleNext_400Regular } from "@expo-google-fonts/atkinson-hyperlegible-next/400Regular";
import { AtkinsonHyperlegibleNext_600SemiBold } from "@expo-google-fonts/atkinson-hyperlegible-next/600SemiBold";
import { useFonts } from "expo-font";
import { Slot } from "expo-router";
import { SWRConfig } from "swr";
import { ThemeProvider } from "../theme/ThemeProvider";
import "../theme/global.css";

/** Fonts, colours and reading for every screen. The page waits for its fonts so that figures do not jump. */
export default function Layout() {
  const [ready, failed] = useFonts({
    Words: AtkinsonHyperlegibleNext_400Regular,
    WordsStrong: AtkinsonHyperlegibleNext_600SemiBold,
    Figures: AtkinsonHyperlegibleMono_400Regular,
    FiguresStrong: AtkinsonHyperlegibleMono_600SemiBold,
  });
  return (
    <ThemeProvider>
      <SWRConfig value={{ revalidateOnFocus: true, dedupingInterval: 500, shouldRetryOnError: true, errorRetryInterval: 3_000 }}>
        {ready || failed ? <Slot /> : null}
      </SWRConfig>
    </ThemeProvider>
  );
}
