import { TextInput, View } from "react-native";
import { useTheme } from "../theme/ThemeProvider";
import { Words } from "./Words";

interface Props {
  label: string;
  value: string;
  onChange: (value: string) => void;
  onFocus?: () => void;
  onBlur?: () => void;
  unit?: string;
  error?: string | undefined;
  hint?: string;
  numeric?: boolean;
  /** Shares its row with others. */
  narrow?: boolean;
  /** Shows dots for what is typed. */
  secret?: boolean;
}

/** A labelled input with its unit; what is wrong with it stands beneath in words. */
export function Field({
  label,
  value,
  onChange,
  onFocus,
  onBlur,
  unit,
  error,
  hint,
  numeric = false,
  narrow = false,
  secret = false,
}: Props) {
  const { colour } = useTheme();
  return (
    <View className={`gap-1 ${narrow ? "min-w-[120px] flex-1" : ""}`}>
      <Words kind="small">{unit ? `${label}, ${unit}` : label}</Words>
      <TextInput
        aria-label={unit ? `${label}, ${unit}` : label}
        aria-invalid={error !== undefined}
        value={value}
        onChangeText={onChange}
        onFocus={onFocus}
        onBlur={onBlur}
        secureTextEntry={secret}
        {...(secret ? { autoComplete: "off" as const } : {})}
        inputMode={numeric ? "decimal" : "text"}
        placeholder={hint}
        placeholderTextColor={colour.faded}
        className={`min-h-[44px] rounded border-2 bg-sheet px-3 text-base text-ink ${numeric ? "font-figures text-right" : "font-words"} ${error ? "border-broken" : "border-rule"}`}
      />
      {error ? (
        <Words kind="small" tone="text-broken">
          {error}
        </Words>
      ) : null}
    </View>
  );
}
