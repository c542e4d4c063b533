import { zodResolver } from "@hookform/resolvers/zod";
import { type Uplink, type UplinkBody, uplinkBody, uplinkKind } from "@ukaza/contract/venue";
import { useState } from "react";
import { Controller, useForm } from "react-hook-form";
import { View } from "react-native";
import { send } from "../../data/api";
import { useOrder } from "../../data/hooks";
import { useRefreshLines } from "../../data/useRefresh";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { FormField } from "../../ui/FormField";
import { ProblemNote } from "../../ui/Problem";
import { Removal } from "../../ui/Removal";
import { Several } from "../../ui/Several";
import { Words } from "../../ui/Words";
import { fromTyped, type TypedUplink, toTyped, typedUplink } from "./uplinkTyped";

/** An uplink new or changed: what it is, what it costs, who else is on it, and where its tests go. */
export function UplinkForm({
  venueId,
  eventId,
  uplink,
  siblings,
  onDone,
}: {
  venueId: string;
  eventId: string | null;
  uplink?: Uplink;
  siblings: Uplink[];
  onDone: (id: string | null) => void;
}) {
  const refresh = useRefreshLines();
  const { busy, error, run } = useOrder();
  const [owner, setOwner] = useState<"venue" | "event">("venue");
  const { control, handleSubmit, watch } = useForm<TypedUplink>({ resolver: zodResolver(typedUplink), defaultValues: toTyped(uplink) });
  const [kind, isMetered] = watch(["kind", "isMetered"]);
  const others = siblings.filter((s) => s.kind !== "bonded" && s.id !== uplink?.id);
  const submit = handleSubmit(async (typed) => {
    const body: UplinkBody = uplinkBody.parse(fromTyped(typed));
    const path = uplink
      ? `/uplinks/${uplink.id}`
      : owner === "event" && eventId
        ? `/events/${eventId}/uplinks`
        : `/venues/${venueId}/uplinks`;
    const done = await run(() => send<{ id: string }>(uplink ? "PUT" : "POST", path, body));
    if (!done) return;
    await refresh();
    onDone(done.id);
  });
  const remove = async () => {
    if (!uplink || !(await run(() => send("DELETE", `/uplinks/${uplink.id}`)))) return;
    await refresh();
    onDone(null);
  };
  return (
    <>
      <FormField control={control} name="name" label="Name" />
      <Controller
        control={control}
        name="kind"
        render={({ field: f }) => (
          <Choice
            label="Kind"
            value={f.value}
            options={uplinkKind.options.map((value) => ({ value, word: value }))}
            onChange={f.onChange}
          />
        )}
      />
      {kind === "bonded" ? (
        <Controller
          control={control}
          name="members"
          render={({ field: f, fieldState }) => (
            <View className="gap-2">
              <Words kind="small">Members</Words>
              <Members others={others} value={f.value} onChange={f.onChange} />
              {fieldState.error ? (
                <Words kind="small" tone="text-broken">
                  {String(fieldState.error.message)}
                </Words>
              ) : null}
            </View>
          )}
        />
      ) : null}
      <FormField control={control} name="note" label="Note" hint="socket behind the stage, left" />
      <Controller
        control={control}
        name="isMetered"
        render={({ field: f }) => (
          <Choice
            label="Metered"
            value={f.value}
            options={[
              { value: "no", word: "Not metered" },
              { value: "yes", word: "Metered" },
            ]}
            onChange={f.onChange}
          />
        )}
      />
      {isMetered === "yes" ? (
        <>
          <FormField control={control} name="allowanceGb" label="Allowance, if there is one" unit="GB" />
          <FormField control={control} name="usedGb" label="Used so far; tests add to it" unit="GB" />
          <FormField control={control} name="pricePerGb" label="Price per GB, in your own currency" unit="per GB" />
        </>
      ) : null}
      <FormField control={control} name="reserved" label="Set aside for others, by hours" hint="19:00-23:00 4 the bar's guests" />
      <Words kind="small">One entry, or several with semicolons: from-until, Mb/s, who.</Words>
      <FormField control={control} name="reflector" label="Reflector for the built-in test" hint="reflector.example:4320" />
      <FormField control={control} name="localAddress" label="This machine's address on the uplink" hint="192.168.8.2" />
      {!uplink && eventId ? (
        <Choice
          label="Whose it is"
          value={owner}
          options={[
            { value: "venue", word: "Stays with the venue" },
            { value: "event", word: "Only for this event" },
          ]}
          onChange={setOwner}
        />
      ) : null}
      <ProblemNote error={error} />
      <Button look="main" busy={busy} onPress={() => void submit()}>
        {uplink ? "Save the uplink" : "Add the uplink"}
      </Button>
      {uplink ? (
        <Removal
          word="Remove this uplink"
          question="Remove it from the venue? Its tests are kept, and it comes back if a venue file names it again."
          onRemove={() => void remove()}
        />
      ) : null}
    </>
  );
}

function Members({ others, value, onChange }: { others: Uplink[]; value: string[]; onChange: (ids: string[]) => void }) {
  if (others.length === 0) return <Words kind="faded">There is no other uplink yet. Add the modems first.</Words>;
  return <Several value={value} options={others.map((u) => ({ value: u.id, word: u.name }))} onChange={onChange} />;
}
