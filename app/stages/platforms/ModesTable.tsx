import { type Column, type ModeCells, modeCells } from "@ukaza/core/formats/modeRow";
import { readModesTable } from "@ukaza/core/formats/modesTable";
import Trash from "lucide-react-native/icons/trash";
import { useState } from "react";
import { type Control, Controller, useFieldArray } from "react-hook-form";
import { Pressable, TextInput, View } from "react-native";
import { useTheme } from "../../theme/ThemeProvider";
import { Button } from "../../ui/Button";
import { useWide } from "../../ui/useWide";
import { Words } from "../../ui/Words";
import { emptyCells, type TypedSheet } from "./sheetTyped";

const columns: readonly { name: Column; word: string; width: number; figures: boolean }[] = [
  { name: "size", word: "Size", width: 112, figures: false },
  { name: "frameRates", word: "Frame rates", width: 136, figures: false },
  { name: "minBps", word: "Min kb/s", width: 68, figures: true },
  { name: "recommendedBps", word: "Rec. kb/s", width: 68, figures: true },
  { name: "maxBps", word: "Max kb/s", width: 68, figures: true },
  { name: "codec", word: "Codec", width: 74, figures: false },
  { name: "profiles", word: "Profiles", width: 100, figures: false },
  { name: "maxLevel", word: "Level", width: 54, figures: true },
];

/** A share of the row; no cell pushes the row over its edge. */
const wideCell = (share: number) => ({ flexGrow: share, flexShrink: share, flexBasis: 0, minWidth: 0 });

/** The modes of a sheet as a table to type in or to paste into; on the phone each row is a card. */
export function ModesTable({ control }: { control: Control<TypedSheet> }) {
  const { fields, append, remove, replace } = useFieldArray({ control, name: "modes" });
  const wide = useWide();
  return (
    <View className="gap-3">
      <PasteTable onTake={(rows, instead) => (instead ? replace(rows) : append(rows))} />
      <View role={wide ? "table" : "list"} aria-label="Modes" className={wide ? "gap-1" : "gap-4"}>
        {wide ? (
          <View role="row" className="flex-row gap-1">
            {columns.map((column) => (
              <View key={column.name} role="columnheader" style={wideCell(column.width)}>
                <Words kind="small" className={column.figures ? "text-right" : ""}>
                  {column.word}
                </Words>
              </View>
            ))}
            <View className="w-11" />
          </View>
        ) : null}
        {fields.map((field, row) => (
          <ModeRow key={field.id} control={control} row={row} wide={wide} onRemove={() => remove(row)} />
        ))}
      </View>
      <Button className="self-start" onPress={() => append({ ...emptyCells })}>
        Add a row
      </Button>
    </View>
  );
}

function ModeRow({ control, row, wide, onRemove }: { control: Control<TypedSheet>; row: number; wide: boolean; onRemove: () => void }) {
  return (
    <Controller
      control={control}
      name={`modes.${row}.size`}
      render={({ fieldState }) => (
        <View {...(wide ? {} : { role: "listitem" as const })} className={wide ? "" : "rounded border border-rule p-2"}>
          {wide ? null : (
            <View className="flex-row items-center justify-between">
              <Words kind="strong">{`Row ${row + 1}`}</Words>
              <RemoveRow row={row} onPress={onRemove} />
            </View>
          )}
          <View {...(wide ? { role: "row" as const } : {})} className={`flex-row gap-1 ${wide ? "" : "flex-wrap"}`}>
            {columns.map((column) => (
              <Cell key={column.name} control={control} row={row} column={column} wide={wide} />
            ))}
            {wide ? (
              <View role="cell">
                <RemoveRow row={row} onPress={onRemove} />
              </View>
            ) : null}
          </View>
          {fieldState.error ? (
            <Words kind="small" tone="text-broken">
              {`Row ${row + 1}: ${fieldState.error.message}`}
            </Words>
          ) : null}
        </View>
      )}
    />
  );
}

function Cell({
  control,
  row,
  column,
  wide,
}: {
  control: Control<TypedSheet>;
  row: number;
  column: (typeof columns)[number];
  wide: boolean;
}) {
  return (
    <Controller
      control={control}
      name={`modes.${row}.${column.name}`}
      render={({ field }) => (
        <View
          {...(wide ? { role: "cell" as const } : {})}
          style={wide ? wideCell(column.width) : { minWidth: column.width, flexGrow: 1, flexBasis: "30%" }}
        >
          {wide ? null : <Words kind="small">{column.word}</Words>}
          <TextInput
            aria-label={`${column.word}, row ${row + 1}`}
            value={field.value}
            onChangeText={field.onChange}
            onBlur={field.onBlur}
            className={`min-h-[44px] w-full rounded border border-rule bg-paper px-2 font-figures text-sm text-ink ${column.figures ? "text-right" : ""}`}
          />
        </View>
      )}
    />
  );
}

function RemoveRow({ row, onPress }: { row: number; onPress: () => void }) {
  const { colour } = useTheme();
  return (
    <Pressable
      role="button"
      aria-label={`Remove row ${row + 1}`}
      onPress={onPress}
      className="h-11 w-11 items-center justify-center self-end"
    >
      <Trash color={colour.deep} size={18} />
    </Pressable>
  );
}

/** A table as it was copied from a spreadsheet or a help page: read at once, taken when it reads well. */
function PasteTable({ onTake }: { onTake: (rows: ModeCells[], instead: boolean) => void }) {
  const { colour } = useTheme();
  const [open, setOpen] = useState(false);
  const [text, setText] = useState("");
  if (!open)
    return (
      <Button className="self-start" onPress={() => setOpen(true)}>
        Paste a table
      </Button>
    );
  const rows = readModesTable(text);
  const good = rows.flatMap((row) => (row.mode ? [modeCells(row.mode)] : []));
  const bad = rows.filter((row) => row.mode === null);
  const take = (instead: boolean) => {
    onTake(good, instead);
    setText("");
    setOpen(false);
  };
  const modesWord = good.length === 1 ? "1 mode" : `${good.length} modes`;
  return (
    <View className="gap-2 rounded border border-deep p-3">
      <Words kind="small">
        Rows from a spreadsheet or a help page, with tabs, commas or semicolons. Without a line of column names they are read as size, frame
        rates, minimum, recommended, maximum, codec, profiles, level; bitrates in kb/s.
      </Words>
      <TextInput
        aria-label="Table of modes"
        multiline
        value={text}
        onChangeText={setText}
        placeholder={"1920×1080\t25/30\t1500\t4500\t6000"}
        placeholderTextColor={colour.faded}
        className="min-h-[120px] rounded border-2 border-rule bg-sheet p-2 font-figures text-sm text-ink"
      />
      {rows.length > 0 ? <Words testID="pasted">{`${modesWord} read${bad.length > 0 ? `, ${bad.length} rows not` : ""}.`}</Words> : null}
      {bad.slice(0, 6).map((row) => (
        <Words key={row.line} kind="small" tone="text-broken">
          {`Line ${row.line}: ${row.faults.join("; ")}.`}
        </Words>
      ))}
      <View className="flex-row flex-wrap gap-2">
        <Button look="main" disabled={good.length === 0} onPress={() => take(false)}>
          {`Add ${modesWord}`}
        </Button>
        <Button disabled={good.length === 0} onPress={() => take(true)}>
          Put them in place of the table
        </Button>
        <Button onPress={() => setOpen(false)}>Close</Button>
      </View>
    </View>
  );
}
