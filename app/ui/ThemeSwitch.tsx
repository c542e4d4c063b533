import Moon from "lucide-react-native/icons/moon";
import Sun from "lucide-react-native/icons/sun";
import { Pressable } from "react-native";
import { useTheme } from "../theme/ThemeProvider";

/** Day or night, by hand; until it is touched the system decides. */
export function ThemeSwitch() {
  const { isNight, choose, colour } = useTheme();
  const Icon = isNight ? Sun : Moon;
  return (
    <Pressable
      role="button"
      aria-label={isNight ? "Day colours" : "Night colours"}
      onPress={() => choose(isNight ? "day" : "night")}
      className="h-11 w-11 items-center justify-center rounded"
    >
      <Icon color={colour.ink} size={20} />
    </Pressable>
  );
}
