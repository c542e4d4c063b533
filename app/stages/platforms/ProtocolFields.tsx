import { type Control, useFieldArray, useWatch } from "react-hook-form";
import { View } from "react-native";
import { Button } from "../../ui/Button";
import { FormChoice, options } from "../../ui/FormChoice";
import { FormField } from "../../ui/FormField";
import { Fields } from "../../ui/Section";
import { Words } from "../../ui/Words";
import { emptyProtocol, type TypedSheet } from "./sheetTyped";

const protocols = [
  { value: "rtmp", word: "RTMP" },
  { value: "rtmps", word: "RTMPS" },
  { value: "srt", word: "SRT" },
] as const;
const usualPort = { rtmp: "1935", rtmps: "443", srt: "9000" } as const;
const demand = options(["none", "optional", "required"]);

/** How each protocol is spoken: ports, how address and key are joined, and what else must be said. */
export function ProtocolFields({ control }: { control: Control<TypedSheet> }) {
  const { fields, append, remove } = useFieldArray({ control, name: "protocols" });
  const typed = useWatch({ control, name: "protocols" });
  const free = protocols.filter((p) => !typed.some((t) => t.protocol === p.value));
  return (
    <View className="gap-4">
      {fields.map((field, i) => (
        <View key={field.id} className="gap-3 border-b border-rule pb-4">
          <View className="flex-row items-center justify-between">
            <Words kind="strong">{(typed[i]?.protocol ?? field.protocol).toUpperCase()}</Words>
            {fields.length > 1 ? (
              <Button label={`Remove ${(typed[i]?.protocol ?? "").toUpperCase()}`} onPress={() => remove(i)}>
                Remove
              </Button>
            ) : null}
          </View>
          <OneProtocol control={control} i={i} srt={typed[i]?.protocol === "srt"} />
        </View>
      ))}
      <View className="flex-row flex-wrap gap-2">
        {free.map((p) => (
          <Button
            key={p.value}
            onPress={() =>
              append({ ...emptyProtocol, protocol: p.value, defaultPort: usualPort[p.value], separator: p.value === "srt" ? "" : "/" })
            }
          >
            {`Add ${p.word}`}
          </Button>
        ))}
      </View>
    </View>
  );
}

function OneProtocol({ control, i, srt }: { control: Control<TypedSheet>; i: number; srt: boolean }) {
  const at = `protocols.${i}` as const;
  return (
    <>
      <Fields>
        <FormField narrow control={control} name={`${at}.defaultPort`} label="Port" />
        <FormField narrow control={control} name={`${at}.otherPorts`} label="Other ports" hint="443, 80" />
        <FormField narrow control={control} name={`${at}.separator`} label="Between address and key" hint="/, or nothing" />
      </Fields>
      {srt ? (
        <>
          <FormChoice control={control} name={`${at}.srtMode`} label="The encoder is" options={options(["caller", "listener"])} />
          <FormField control={control} name={`${at}.streamId`} label="Stream ID, with {key} where the key stands" hint="publish:{key}" />
          <FormChoice control={control} name={`${at}.passphrase`} label="Passphrase" options={demand} />
        </>
      ) : null}
      <FormChoice control={control} name={`${at}.login`} label="User name and password" options={demand} />
      <Fields>
        <FormField narrow control={control} name={`${at}.renditionSuffix`} label="Added to the key for renditions, with {n}" hint="_{n}" />
        <FormField narrow control={control} name={`${at}.userAgent`} label="Name the sender must give itself" hint="none" />
      </Fields>
    </>
  );
}
