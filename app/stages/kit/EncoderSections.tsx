import { type Control, type FieldErrors, useFieldArray, useWatch } from "react-hook-form";
import { View } from "react-native";
import { countFaults } from "../../data/typedForm";
import { Button } from "../../ui/Button";
import { FormChoice, FormSeveral, options, yesNo } from "../../ui/FormChoice";
import { FormField } from "../../ui/FormField";
import { Fields, Section } from "../../ui/Section";
import { Words } from "../../ui/Words";
import { setByWord } from "../../words/kit";
import type { TypedEncoder } from "./encoderTyped";

const codecs = [
  { value: "h264", word: "H.264" },
  { value: "h265", word: "H.265" },
  { value: "av1", word: "AV1" },
] as const;
const protocols = [
  { value: "rtmp", word: "RTMP" },
  { value: "rtmps", word: "RTMPS" },
  { value: "srt", word: "SRT" },
];

interface Part {
  control: Control<TypedEncoder>;
}

/** Everything that is known of an encoder, what decides most first. */
export function EncoderSections({ control, errors }: Part & { errors: FieldErrors<TypedEncoder> }) {
  const faults = (...names: (keyof TypedEncoder)[]) => names.reduce((sum, name) => sum + countFaults(errors[name]), 0);
  return (
    <>
      <Section title="What it is" begin faults={faults("name", "kind", "serial", "note", "engines", "maxFeeds")}>
        <FormField control={control} name="name" label="Name" missing="Give it a name." />
        <FormChoice
          control={control}
          name="kind"
          label="Kind"
          options={options(["software", "hardware", "field pack", "phone", "receiver"])}
        />
        <FormField control={control} name="serial" label="Serial number" />
        <Fields>
          <FormField narrow control={control} name="engines" label="Engines, encodes at once" />
          <FormField narrow control={control} name="maxFeeds" label="Feeds at once" />
        </Fields>
        <FormField control={control} name="note" label="Note" hint="in the grey case, with its own charger" />
      </Section>
      <Section
        title="Pictures"
        faults={faults("codecs", "maxWidth", "maxHeight", "sizes", "frameRates", "orientations", "maxLumaPerS", "keyframesAtCuts")}
      >
        <Codecs control={control} />
        <Fields>
          <FormField narrow control={control} name="maxWidth" label="Widest" unit="px" />
          <FormField narrow control={control} name="maxHeight" label="Highest" unit="px" />
          <FormField narrow control={control} name="maxLumaPerS" label="All engines together" unit="million pixels/s" />
        </Fields>
        <FormField control={control} name="sizes" label="Only these sizes" hint="any; or 1920×1080, 1280×720" />
        <FormField control={control} name="frameRates" label="Only these frame rates" hint="any; or 25, 29.97, 50" />
        <FormSeveral control={control} name="orientations" label="Makes" options={options(["landscape", "portrait"])} />
        <FormChoice control={control} name="sizeMultiple" label="Each side a multiple of" options={options(["2", "4", "8", "16"])} />
        <FormChoice control={control} name="keyframesAtCuts" label="Keyframes at cuts" options={options(["never", "always", "choice"])} />
      </Section>
      <Section title="Bitrates and sound" faults={faults("videoBps", "audioMaxBps", "audioRatesHz", "audioChannelsMax")}>
        <Fields>
          <FormField narrow control={control} name="videoBps.min" label="Video, least" unit="kb/s" />
          <FormField narrow control={control} name="videoBps.max" label="Video, most" unit="kb/s" />
          <FormField narrow control={control} name="videoBps.step" label="Video, step" unit="kb/s" />
        </Fields>
        <Fields>
          <FormField narrow control={control} name="audioMaxBps" label="Audio, most" unit="kb/s" />
          <FormField narrow control={control} name="audioRatesHz" label="Sample rates in Hz" hint="44100, 48000" />
          <FormField narrow control={control} name="audioChannelsMax" label="Channels at most" />
        </Fields>
      </Section>
      <Section title="Inputs" faults={faults("inputs", "deinterlaces", "convertsFrameRate")}>
        <Inputs control={control} />
        <FormChoice control={control} name="deinterlaces" label="Makes whole pictures of interlaced fields" options={yesNo} />
        <FormChoice control={control} name="convertsFrameRate" label="Sends another frame rate than comes in" options={yesNo} />
      </Section>
      <Section title="Way out" faults={faults("protocols", "credentials", "setBy", "network")}>
        <FormSeveral control={control} name="protocols" label="Protocols" options={protocols} />
        <FormSeveral
          control={control}
          name="credentials"
          label="Can say, beside address and key"
          options={[
            { value: "login", word: "User name and password" },
            { value: "stream id", word: "Stream ID" },
            { value: "passphrase", word: "Passphrase" },
            { value: "user agent", word: "A name of its own" },
          ]}
        />
        <FormChoice
          control={control}
          name="setBy"
          label="Address and key come into it by"
          options={Object.entries(setByWord).map(([value, word]) => ({ value, word }))}
        />
        <FormField control={control} name="network" label="Network ports and modems" hint="Left socket: wired; Modem 1: modem" />
      </Section>
      <Section title="Recordings and presets" faults={faults("recordings", "presets")}>
        <Recordings control={control} />
        <FormField control={control} name="presets" label="Presets" hint="Chapel: 1280×720 25 2500" />
      </Section>
      <Section title="How it is reached" faults={faults("reach")}>
        <Reach control={control} />
      </Section>
    </>
  );
}

function Codecs({ control }: Part) {
  const { fields, append, remove } = useFieldArray({ control, name: "codecs" });
  const typed = useWatch({ control, name: "codecs" });
  return (
    <View className="gap-3">
      {fields.map((field, i) => (
        <View key={field.id} className="gap-2 border-b border-rule pb-3">
          <Words kind="strong">{codecs.find((c) => c.value === (typed[i]?.codec ?? field.codec))?.word}</Words>
          <FormSeveral
            control={control}
            name={`codecs.${i}.profiles`}
            label="Profiles"
            options={options(["baseline", "main", "high", "main10"])}
          />
          <FormField control={control} name={`codecs.${i}.maxLevel`} label="Level at most" />
          {fields.length > 1 ? (
            <Button className="self-start" onPress={() => remove(i)}>
              {`Remove ${codecs.find((c) => c.value === field.codec)?.word}`}
            </Button>
          ) : null}
        </View>
      ))}
      <View className="flex-row flex-wrap gap-2">
        {codecs
          .filter((c) => !typed.some((t) => t.codec === c.value))
          .map((c) => (
            <Button key={c.value} onPress={() => append({ codec: c.value, profiles: ["main"], maxLevel: "4" })}>
              {`Add ${c.word}`}
            </Button>
          ))}
      </View>
    </View>
  );
}

function Inputs({ control }: Part) {
  const { fields, append, remove } = useFieldArray({ control, name: "inputs" });
  return (
    <View className="gap-3">
      {fields.map((field, i) => (
        <View key={field.id} className="gap-2 border-b border-rule pb-3">
          <FormChoice
            control={control}
            name={`inputs.${i}.connector`}
            label={`Connector ${i + 1}`}
            options={options(["SDI", "HDMI", "USB", "network", "camera"])}
          />
          <FormField
            control={control}
            name={`inputs.${i}.signals`}
            label="Signals it takes"
            hint="any; or 1920×1080 p 25 50; 1920×1080 i 25"
          />
          <Button className="self-start" onPress={() => remove(i)}>
            {`Remove input ${i + 1}`}
          </Button>
        </View>
      ))}
      <Button className="self-start" onPress={() => append({ connector: "SDI", signals: "" })}>
        Add an input
      </Button>
    </View>
  );
}

function Recordings({ control }: Part) {
  const { fields, append, remove } = useFieldArray({ control, name: "recordings" });
  return (
    <View className="gap-3">
      {fields.map((field, i) => (
        <View key={field.id} className="gap-2 border-b border-rule pb-3">
          <FormField control={control} name={`recordings.${i}.name`} label={`Recording ${i + 1} goes to`} missing="Give it a name." />
          <FormChoice control={control} name={`recordings.${i}.kind`} label="Kind" options={options(["disk", "card", "network drive"])} />
          <Fields>
            <FormField narrow control={control} name={`recordings.${i}.freeBytes`} label="Free" unit="GB" />
            <FormField narrow control={control} name={`recordings.${i}.maxFileBytes`} label="Largest file, if there is one" unit="GB" />
          </Fields>
          <Button className="self-start" onPress={() => remove(i)}>
            {`Remove recording ${i + 1}`}
          </Button>
        </View>
      ))}
      <Button className="self-start" onPress={() => append({ name: "", kind: "disk", freeBytes: "100", maxFileBytes: "" })}>
        Add a recording
      </Button>
    </View>
  );
}

function Reach({ control }: Part) {
  const driver = useWatch({ control, name: "reach.driver" });
  return (
    <>
      <FormChoice
        control={control}
        name="reach.driver"
        label="From here"
        options={[
          { value: "none", word: "Not at all, by hand" },
          { value: "http", word: "By its address" },
          { value: "standin", word: "As a stand-in" },
        ]}
      />
      {driver === "http" ? <FormField control={control} name="reach.address" label="Address" hint="http://192.168.8.20:8080" /> : null}
      {driver === "standin" ? <FormField control={control} name="reach.name" label="Name of the stand-in" /> : null}
    </>
  );
}
