import { vars } from "nativewind";
import { createContext, type ReactNode, useContext, useEffect, useMemo, useState } from "react";
import { useColorScheme, View } from "react-native";
import { type ColourName, channels, day, night } from "./colours";
import { keepChoice, paintPage, readChoice } from "./page";

export type ThemeChoice = "day" | "night" | "system";

interface Theme {
  choice: ThemeChoice;
  isNight: boolean;
  colour: Record<ColourName, string>;
  choose: (choice: ThemeChoice) => void;
}

const ThemeContext = createContext<Theme>({ choice: "day", isNight: false, colour: day, choose: () => undefined });

export const useTheme = () => useContext(ThemeContext);

const variables = (colours: Record<ColourName, string>) =>
  vars(Object.fromEntries(Object.entries(colours).map(([name, hex]) => [`--${name}`, channels(hex)])));

function kept(): ThemeChoice {
  const choice = readChoice();
  return choice === "day" || choice === "night" ? choice : "system";
}

/** Gives the colours of the theme around it to what is drawn outside it, such as a sheet over the screen. */
export function ThemeVariables({ children }: { children: ReactNode }) {
  const { colour } = useTheme();
  return (
    <View style={variables(colour)} className="flex-1">
      {children}
    </View>
  );
}

/** Sets the colours for everything below it; day, night, or as the system is, remembered. */
export function ThemeProvider({ children }: { children: ReactNode }) {
  const system = useColorScheme();
  const [choice, setChoice] = useState<ThemeChoice>(kept);
  const isNight = choice === "night" || (choice === "system" && system === "dark");
  useEffect(() => paintPage(isNight), [isNight]);
  const theme = useMemo<Theme>(
    () => ({
      choice,
      isNight,
      colour: isNight ? night : day,
      choose: (next) => {
        setChoice(next);
        keepChoice(next);
      },
    }),
    [choice, isNight],
  );
  return (
    <ThemeContext.Provider value={theme}>
      <View style={variables(theme.colour)} className="flex-1 bg-paper">
        {children}
      </View>
    </ThemeContext.Provider>
  );
}
