import type { FieldErrors } from "react-hook-form";
import { type Control, useWatch } from "react-hook-form";
import { countFaults } from "../../data/typedForm";
import { FormChoice, FormSeveral, options, yesNo } from "../../ui/FormChoice";
import { FormField } from "../../ui/FormField";
import { Fields, Section } from "../../ui/Section";
import { Words } from "../../ui/Words";
import { ModesTable } from "./ModesTable";
import { ProtocolFields } from "./ProtocolFields";
import type { TypedSheet } from "./sheetTyped";

const frozen = [
  { value: "codec", word: "Codec" },
  { value: "size", word: "Size" },
  { value: "frameRate", word: "Frame rate" },
  { value: "videoBps", word: "Video bitrate" },
  { value: "audio", word: "Audio" },
  { value: "keyframe", word: "Keyframes" },
  { value: "protocol", word: "Protocol" },
];

/** Every part of a rule sheet, in the order of a platform's help page. */
export function SheetSections({
  control,
  errors,
  fresh,
}: {
  control: Control<TypedSheet>;
  errors: FieldErrors<TypedSheet>;
  fresh: boolean;
}) {
  const faults = (...names: (keyof TypedSheet)[]) => names.reduce((sum, name) => sum + countFaults(errors[name]), 0);
  const [previewed, listed] = useWatch({ control, name: ["lifecycle.previewed", "listed"] });
  return (
    <>
      <Section title="Platform and source" begin={fresh} faults={faults("platform", "source")}>
        <FormField control={control} name="platform.name" label="Name of the platform" missing="Give it a name." />
        <FormField control={control} name="source.title" label="Where it is written" hint="help page, sending a stream" />
        <Fields>
          <FormField narrow control={control} name="source.checkedOn" label="Checked on" hint="2026-06-01" />
          <FormField narrow control={control} name="source.checkedBy" label="Checked by" />
        </Fields>
      </Section>
      <Section title="Modes" begin faults={faults("modes") + (errors.root ? 1 : 0)}>
        <FormChoice
          control={control}
          name="openModes"
          label="Pictures that are not in the table"
          options={[
            { value: "no", word: "Refused" },
            { value: "yes", word: "Taken too" },
          ]}
        />
        <ModesTable control={control} />
      </Section>
      <Section title="Picture and sound" faults={faults("rateControls", "keyframe", "keyframeFixed", "bFramesMax", "audio")}>
        <FormSeveral
          control={control}
          name="rateControls"
          label="Rate control"
          options={[
            { value: "constant", word: "Constant" },
            { value: "capped-variable", word: "Capped variable" },
          ]}
        />
        <Fields>
          <FormField narrow control={control} name="keyframe.minS" label="Keyframe interval, least" unit="s" />
          <FormField narrow control={control} name="keyframe.recommendedS" label="Keyframe interval, recommended" unit="s" />
          <FormField narrow control={control} name="keyframe.maxS" label="Keyframe interval, most" unit="s" />
        </Fields>
        <FormChoice control={control} name="keyframeFixed" label="Keyframes at the interval only" options={yesNo} />
        <FormField control={control} name="bFramesMax" label="B-frames at most" />
        <Fields>
          <FormField narrow control={control} name="audio.minBps" label="Audio, least" unit="kb/s" />
          <FormField narrow control={control} name="audio.recommendedBps" label="Audio, recommended" unit="kb/s" />
          <FormField narrow control={control} name="audio.maxBps" label="Audio, most" unit="kb/s" />
        </Fields>
        <Fields>
          <FormField narrow control={control} name="audio.sampleRatesHz" label="Sample rates in Hz" hint="44100, 48000" />
          <FormField narrow control={control} name="audio.channelsMax" label="Channels at most" />
        </Fields>
      </Section>
      <Section title="Protocols, address and key" faults={faults("protocols", "alsoTakes", "keyLife", "lastingKeyOnRequest")}>
        <ProtocolFields control={control} />
        <FormSeveral
          control={control}
          name="alsoTakes"
          label="Also takes, without an encoder here that sends it"
          options={[
            { value: "hls push", word: "HLS push" },
            { value: "whip", word: "WHIP" },
          ]}
        />
        <FormChoice
          control={control}
          name="keyLife"
          label="The stream key"
          options={[
            { value: "lasting", word: "Lasts" },
            { value: "one-broadcast", word: "Is for one broadcast" },
            { value: "dies-on-stop", word: "Dies when sending stops" },
          ]}
        />
        <FormChoice control={control} name="lastingKeyOnRequest" label="A lasting key can be asked for" options={yesNo} />
      </Section>
      <Section title="Ingest" faults={faults("backup", "renditionsMax", "regions", "transcodes", "pricePerHour")}>
        <FormChoice
          control={control}
          name="backup"
          label="Backup ingest"
          options={[
            { value: "none", word: "None" },
            { value: "same", word: "With the same settings" },
            { value: "own", word: "With settings of its own" },
          ]}
        />
        <FormChoice control={control} name="transcodes" label="Makes smaller sizes itself" options={yesNo} />
        <FormField control={control} name="renditionsMax" label="Renditions at most" />
        <FormField control={control} name="regions" label="Regions" hint="north: North Reach; south: South Reach" />
        <FormField control={control} name="pricePerHour" label="Price an hour, in the platform's currency" hint="nothing" />
      </Section>
      <Section title="From the first bit to the end" faults={faults("lifecycle")}>
        <Words kind="small">How long each takes, usually and at most.</Words>
        <Waits control={control} name="receive" word="Receiving" />
        <Waits control={control} name="verdict" word="Verdict" />
        <FormChoice control={control} name="lifecycle.previewed" label="A preview before public" options={yesNo} />
        {previewed === "yes" ? <Waits control={control} name="preview" word="Preview" /> : null}
        <FormSeveral
          control={control}
          name="lifecycle.irreversible"
          label="Cannot be taken back"
          options={[
            { value: "public", word: "Going public" },
            { value: "end", word: "Ending" },
          ]}
        />
        <FormChoice
          control={control}
          name="lifecycle.endsFirst"
          label="Ends first"
          options={[
            { value: "platform", word: "On the platform" },
            { value: "encoder", word: "At the encoder" },
          ]}
        />
        <FormSeveral control={control} name="lifecycle.freezes.preview" label="Frozen from the preview on" options={frozen} />
        <FormSeveral control={control} name="lifecycle.freezes.public" label="Frozen from public on" options={frozen} />
      </Section>
      <Section title="Viewers and listing" faults={faults("latencyModes", "listed", "listing")}>
        <FormField control={control} name="latencyModes" label="Latency modes with their delay in seconds" hint="normal 25; low 6" />
        <FormChoice
          control={control}
          name="listed"
          label="A listing"
          options={[
            { value: "no", word: "None" },
            { value: "yes", word: "Title and description" },
            { value: "picture", word: "With a picture" },
          ]}
        />
        {listed === "no" ? null : (
          <Fields>
            <FormField narrow control={control} name="listing.titleMax" label="Title, signs at most" />
            <FormField narrow control={control} name="listing.descriptionMax" label="Description, signs at most" />
          </Fields>
        )}
        {listed === "picture" ? (
          <>
            <Fields>
              <FormField narrow control={control} name="listing.picture.minWidth" label="Picture width, least" unit="px" />
              <FormField narrow control={control} name="listing.picture.minHeight" label="Picture height, least" unit="px" />
              <FormField narrow control={control} name="listing.picture.aspect" label="Shape" hint="16:9" />
              <FormField narrow control={control} name="listing.picture.maxBytes" label="Picture file, most" unit="kB" />
            </Fields>
            <FormSeveral
              control={control}
              name="listing.picture.types"
              label="Kinds of picture file"
              options={options(["jpeg", "png", "webp"])}
            />
          </>
        ) : null}
      </Section>
    </>
  );
}

function Waits({ control, name, word }: { control: Control<TypedSheet>; name: "receive" | "verdict" | "preview"; word: string }) {
  return (
    <Fields>
      <FormField narrow control={control} name={`lifecycle.${name}.typicalS`} label={`${word}, usually`} unit="s" />
      <FormField narrow control={control} name={`lifecycle.${name}.longestS`} label={`${word}, at most`} unit="s" />
    </Fields>
  );
}
