import { type Control, Controller, type FieldValues, type Path } from "react-hook-form";
import { Field } from "./Field";

/** A field of a form, with its unit and what is wrong with it. A field with a unit takes numbers. */
export function FormField<T extends FieldValues, Out>({
  control,
  name,
  label,
  unit,
  hint,
  missing,
  narrow = false,
}: {
  control: Control<T, unknown, Out>;
  name: Path<T>;
  label: string;
  unit?: string;
  hint?: string;
  /** What is said of it whatever the schema's own words are. */
  missing?: string;
  narrow?: boolean;
}) {
  return (
    <Controller
      control={control}
      name={name}
      render={({ field, fieldState }) => (
        <Field
          label={label}
          narrow={narrow}
          {...(unit ? { unit, numeric: true } : {})}
          {...(hint ? { hint } : {})}
          value={field.value ?? ""}
          onChange={field.onChange}
          onBlur={field.onBlur}
          error={fieldState.error ? (missing ?? fieldState.error.message) : undefined}
        />
      )}
    />
  );
}
