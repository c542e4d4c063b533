import type { Encoder } from "@ukaza/contract/encoder";
import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import type { Settings } from "@ukaza/contract/settings";
import { exactRate, frameRateHz } from "@ukaza/core/media/frameRate";
import { baseSettings, sheetAudioBps } from "@ukaza/core/rules/baseSettings";
import { checkSettings, mend, mendAll } from "@ukaza/core/rules/check";
import { useMemo, useState } from "react";
import { View } from "react-native";
import { useKit } from "../../data/hooks";
import { Choice } from "../../ui/Choice";
import { Field } from "../../ui/Field";
import { Panel } from "../../ui/Panel";
import { Fields } from "../../ui/Section";
import { Words } from "../../ui/Words";
import { fieldWord, valueText } from "../../words/findings";
import { Findings } from "../fit/Findings";

/** Settings as the sheet itself would have its first mode sent. */
function begin(sheet: RuleSheet): Settings | null {
  const [mode] = sheet.modes;
  const [profile] = mode?.profiles ?? [];
  const [way] = sheet.protocols;
  if (!mode || !profile || !way) return null;
  const videoBps = mode.recommendedBps ?? mode.maxBps;
  return baseSettings(sheet, mode, mode.frameRates[0] ?? "25", way.protocol, { profile, videoBps, audioBps: sheetAudioBps(sheet) });
}

/** Try these settings: what the sheet being written would say of them, at once. */
export function TestBench({ sheet, stale }: { sheet: RuleSheet | null; stale: boolean }) {
  const [tried, setTried] = useState<Settings | null>(null);
  const [encoderId, setEncoderId] = useState("");
  const { data: kit } = useKit();
  const encoder = kit?.find((item) => item.encoder.id === encoderId)?.encoder;
  const settings = tried ?? (sheet ? begin(sheet) : null);
  const findings = useMemo(
    () => (sheet && settings ? checkSettings({ sheet, settings, ...(encoder ? { encoder } : {}) }) : []),
    [sheet, settings, encoder],
  );
  if (!sheet || !settings)
    return (
      <Panel title="Try these settings">
        <Words kind="faded">As soon as the sheet has a mode and no faults, settings can be tried against it here.</Words>
      </Panel>
    );
  const given = { sheet, settings, ...(encoder ? { encoder } : {}) };
  return (
    <View className="gap-4" testID="bench">
      <Panel title="Try these settings">
        {stale ? <Words kind="small">The sheet has faults just now; this is how it read before them.</Words> : null}
        <TriedFields settings={settings} onChange={setTried} />
        <EncoderChoice kit={(kit ?? []).map((item) => item.encoder)} value={encoderId} onChange={setEncoderId} />
      </Panel>
      <Findings
        findings={findings}
        fixed={false}
        onMend={(patch) => setTried(mend(settings, { mend: patch }))}
        onMendAll={() => setTried(mendAll(given).settings)}
      />
    </View>
  );
}

function EncoderChoice({ kit, value, onChange }: { kit: Encoder[]; value: string; onChange: (id: string) => void }) {
  if (kit.length === 0) return null;
  return (
    <View className="gap-1">
      <Words kind="small">With an encoder</Words>
      <Choice
        label="With an encoder"
        value={value}
        options={[{ value: "", word: "Any" }, ...kit.map((e) => ({ value: e.id, word: e.name }))]}
        onChange={onChange}
      />
    </View>
  );
}

/** Text that takes hold as soon as it reads well. */
function Typed({ label, unit, shown, read }: { label: string; unit?: string; shown: string; read: (text: string) => boolean }) {
  const [text, setText] = useState(shown);
  const [last, setLast] = useState(shown);
  // A mend changes what is tried from outside: what was typed makes room for it.
  if (shown !== last) {
    setLast(shown);
    setText(shown);
  }
  const [bad, setBad] = useState(false);
  return (
    <Field
      narrow
      label={label}
      {...(unit ? { unit, numeric: true } : {})}
      value={text}
      error={bad && text !== shown ? "This cannot be read." : undefined}
      onChange={(next) => {
        setText(next);
        setBad(!read(next));
      }}
    />
  );
}

function TriedFields({ settings, onChange }: { settings: Settings; onChange: (s: Settings) => void }) {
  const patch = (part: Partial<Settings>) => {
    onChange({ ...settings, ...part });
    return true;
  };
  const number =
    (field: "videoBps" | "audioBps" | "keyframeS" | "bFrames", factor: number, least: number, most: number) => (text: string) => {
      const value = Number(text.replace(",", ".")) * factor;
      if (text.trim() === "" || !Number.isFinite(value) || value < least || value > most) return false;
      return patch({ [field]: field === "keyframeS" ? value : Math.round(value) });
    };
  const rate = (text: string) => {
    const exact = exactRate(text);
    return /^[1-9]\d{0,2}$|^[1-9]\d{0,5}\/1001$/.test(exact) && patch({ frameRate: exact });
  };
  const size = (text: string) => {
    const [, width, height] = /^(\d{2,5})\s*[x×*]\s*(\d{2,5})$/i.exec(text.trim()) ?? [];
    const sides = [Number(width), Number(height)] as const;
    return sides.every((side) => side >= 16 && side <= 16_384) && patch({ width: sides[0], height: sides[1] });
  };
  const hz = frameRateHz(settings.frameRate);
  return (
    <>
      <Fields>
        <Typed label="Size" shown={`${settings.width}×${settings.height}`} read={size} />
        <Typed label="Frame rate" shown={Number.isInteger(hz) ? String(hz) : String(Math.round(hz * 1000) / 1000)} read={rate} />
        <Typed label="Video" unit="kb/s" shown={String(settings.videoBps / 1e3)} read={number("videoBps", 1e3, 50_000, 1e10)} />
        <Typed label="Audio" unit="kb/s" shown={String(settings.audioBps / 1e3)} read={number("audioBps", 1e3, 0, 2_000_000)} />
        <Typed label="Keyframe interval" unit="s" shown={String(settings.keyframeS)} read={number("keyframeS", 1, 0.1, 30)} />
        <Typed label="B-frames" shown={String(settings.bFrames)} read={number("bFrames", 1, 0, 16)} />
      </Fields>
      <Pick
        field="codec"
        value={settings.codec}
        words={["h264", "h265", "av1"]}
        onChange={(codec) => patch({ codec: codec as Settings["codec"] })}
      />
      <Pick
        field="profile"
        value={settings.profile}
        words={["baseline", "main", "high", "main10"]}
        onChange={(profile) => patch({ profile: profile as Settings["profile"] })}
      />
      <Pick
        field="rateControl"
        value={settings.rateControl}
        words={["constant", "capped-variable"]}
        onChange={(rateControl) => patch({ rateControl: rateControl as Settings["rateControl"] })}
      />
      <Pick
        field="protocol"
        value={settings.protocol}
        words={["rtmp", "rtmps", "srt"]}
        onChange={(protocol) => patch({ protocol: protocol as Settings["protocol"] })}
      />
    </>
  );
}

function Pick({
  field,
  value,
  words,
  onChange,
}: {
  field: keyof Settings;
  value: string;
  words: readonly string[];
  onChange: (value: string) => void;
}) {
  const label = fieldWord[field];
  return (
    <View className="gap-1">
      <Words kind="small">{label}</Words>
      <Choice
        label={label}
        value={value}
        options={words.map((word) => ({ value: word, word: valueText(field, word) }))}
        onChange={onChange}
      />
    </View>
  );
}
