import { type Control, Controller, type FieldValues, type Path } from "react-hook-form";
import { View } from "react-native";
import { Choice } from "./Choice";
import { Several } from "./Several";
import { Words } from "./Words";

export interface Option {
  value: string;
  word: string;
}

interface Props<T extends FieldValues, Out> {
  control: Control<T, unknown, Out>;
  name: Path<T>;
  label: string;
  options: readonly Option[];
}

/** One of a few as a field of a form. */
export function FormChoice<T extends FieldValues, Out>({ control, name, label, options }: Props<T, Out>) {
  return (
    <Controller
      control={control}
      name={name}
      render={({ field, fieldState }) => (
        <Labelled label={label} error={fieldState.error?.message}>
          <Choice label={label} value={String(field.value)} options={options} onChange={field.onChange} />
        </Labelled>
      )}
    />
  );
}

/** Any number of a few as a field of a form. */
export function FormSeveral<T extends FieldValues, Out>({ control, name, label, options }: Props<T, Out>) {
  return (
    <Controller
      control={control}
      name={name}
      render={({ field, fieldState }) => (
        <Labelled label={label} error={fieldState.error?.message}>
          <View role="group" aria-label={label}>
            <Several value={field.value ?? []} options={options} onChange={field.onChange} />
          </View>
        </Labelled>
      )}
    />
  );
}

function Labelled({ label, error, children }: { label: string; error: string | undefined; children: React.ReactNode }) {
  return (
    <View className="gap-1">
      <Words kind="small">{label}</Words>
      {children}
      {error ? (
        <Words kind="small" tone="text-broken">
          {error}
        </Words>
      ) : null}
    </View>
  );
}

/** Words that are their own values. */
export const options = (words: readonly string[]): Option[] => words.map((word) => ({ value: word, word }));
export const yesNo: readonly Option[] = [
  { value: "yes", word: "Yes" },
  { value: "no", word: "No" },
];
