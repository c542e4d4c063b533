import { ActivityIndicator, Pressable, Text, View } from "react-native";
import { useTheme } from "../theme/ThemeProvider";

const looks = {
  main: { box: "bg-deep border-deep", text: "text-on-deep" },
  plain: { box: "bg-sheet border-deep", text: "text-deep" },
  danger: { box: "bg-sheet border-broken", text: "text-broken" },
} as const;

interface Props {
  children: string;
  onPress: () => void;
  look?: keyof typeof looks;
  busy?: boolean;
  disabled?: boolean;
  /** A fuller name for screen readers, where the words alone do not say enough. */
  label?: string;
  className?: string;
}

/** A button at least 44 px high. Busy: it says so and takes no second press, and keeps its size, so that nothing beside it moves under a finger. */
export function Button({ children, onPress, look = "plain", busy = false, disabled = false, label, className = "" }: Props) {
  const { colour } = useTheme();
  const off = busy || disabled;
  return (
    <Pressable
      role="button"
      aria-label={label ?? children}
      aria-busy={busy}
      aria-disabled={off}
      disabled={off}
      onPress={onPress}
      className={`min-h-[44px] items-center justify-center rounded border-2 px-4 py-2 ${looks[look].box} ${disabled ? "opacity-60" : ""} ${className}`}
    >
      <Text className={`text-center font-strong text-base ${looks[look].text} ${busy ? "opacity-0" : ""}`}>{children}</Text>
      {busy ? (
        <View className="absolute inset-0 items-center justify-center">
          <ActivityIndicator color={look === "main" ? colour["on-deep"] : colour.deep} />
        </View>
      ) : null}
    </Pressable>
  );
}
