import type { Encoder } from "@ukaza/contract/encoder";
import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import type { Settings, SettingsPatch } from "@ukaza/contract/settings";
import { useEffect, useRef, useState } from "react";
import { View } from "react-native";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Field } from "../../ui/Field";
import { Panel } from "../../ui/Panel";
import { Words } from "../../ui/Words";
import { frameRateText, sizeText } from "../../words/units";

interface Props {
  settings: Settings;
  sheet: RuleSheet;
  encoder: Encoder;
  fixed: boolean;
  /** Lets go of everything that was set by hand. */
  onBest: () => void;
  onPatch: (patch: SettingsPatch) => void;
}

/** Sizes and rates offered: the sheet's own, and one it does not take only if the person holds it already. */
const unique = <T,>(values: T[]): T[] => [...new Set(values)];

/** Overriding size, rate, bitrate, audio and keyframe interval by hand. What speaks against it stands in the findings. */
export function SettingsPanel({ settings, sheet, encoder, fixed, onBest, onPatch }: Props) {
  const [open, setOpen] = useState(false);
  if (fixed) return null;
  if (!open)
    return (
      <Button className="self-start" onPress={() => setOpen(true)}>
        Change the settings by hand
      </Button>
    );
  const bitrate = (label: string, field: "videoBps" | "audioBps", min: number, max: number) => (
    <NumberField
      label={label}
      unit="kb/s"
      value={settings[field] / 1000}
      min={min}
      max={max}
      onCommit={(kbps) => onPatch({ [field]: Math.round(kbps) * 1000 })}
    />
  );
  const sizes = unique([...sheet.modes.map(sizeText), sizeText(settings), "2560×1440"]).filter(
    (s) => Number(s.split("×")[0]) <= encoder.maxWidth,
  );
  const rates = unique(sheet.modes.flatMap((m) => m.frameRates)).sort((a, b) => evaluate(a) - evaluate(b));
  return (
    <Panel title="Settings by hand" aside={<Button onPress={onBest}>Back to the best</Button>}>
      <View className="gap-1">
        <Words kind="small">Size</Words>
        <Choice
          label="Size"
          value={sizeText(settings)}
          options={sizes.map((s) => ({ value: s, word: s }))}
          onChange={(s) => {
            const [width = 0, height = 0] = s.split("×").map(Number);
            onPatch({ width, height });
          }}
        />
      </View>
      <View className="gap-1">
        <Words kind="small">Frame rate, frames/s</Words>
        <Choice
          label="Frame rate"
          value={settings.frameRate}
          options={rates.map((r) => ({ value: r, word: frameRateText(r).replace(" frames/s", "") }))}
          onChange={(frameRate) => onPatch({ frameRate })}
        />
      </View>
      {bitrate("Video bitrate", "videoBps", 50, 100_000)}
      {bitrate("Audio bitrate", "audioBps", 0, 2_000)}
      <NumberField
        label="Keyframe interval"
        unit="s"
        value={settings.keyframeS}
        min={0.1}
        max={30}
        onCommit={(v) => onPatch({ keyframeS: v })}
      />
    </Panel>
  );
}

function evaluate(rate: string): number {
  const [num = "0", den = "1"] = rate.split("/");
  return Number(num) / Number(den);
}

/** A number that takes hold while it is typed, as long as it makes sense. Whoever is in it is not written over. */
function NumberField({
  label,
  unit,
  value,
  min,
  max,
  onCommit,
}: {
  label: string;
  unit: string;
  value: number;
  min: number;
  max: number;
  onCommit: (value: number) => void;
}) {
  const [text, setText] = useState(String(value));
  /** null: nobody is in the field. */
  const visit = useRef<{ typed: boolean } | null>(null);
  useEffect(() => {
    if (!visit.current) setText(String(value));
  }, [value]);
  const typed = Number(text.replace(",", "."));
  const wrong = text.trim() === "" || !Number.isFinite(typed) || typed < min || typed > max;
  return (
    <Field
      label={label}
      unit={unit}
      numeric
      value={text}
      error={wrong ? `Give a number from ${min} to ${max}.` : undefined}
      onFocus={() => {
        visit.current = { typed: false };
      }}
      onBlur={() => {
        if (!visit.current?.typed) setText(String(value));
        visit.current = null;
      }}
      onChange={(next) => {
        if (visit.current) visit.current.typed = true;
        setText(next);
        const number = Number(next.replace(",", "."));
        if (next.trim() !== "" && Number.isFinite(number) && number >= min && number <= max) onCommit(number);
      }}
    />
  );
}
