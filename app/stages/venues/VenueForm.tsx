import { zodResolver } from "@hookform/resolvers/zod";
import { type Venue, type VenueBody, venueBody } from "@ukaza/contract/venue";
import { useForm } from "react-hook-form";
import type { z } from "zod";
import { send } from "../../data/api";
import { useOrder } from "../../data/hooks";
import { useRefreshLines } from "../../data/useRefresh";
import { Button } from "../../ui/Button";
import { FormField } from "../../ui/FormField";
import { ProblemNote } from "../../ui/Problem";

/** A venue's name, clock and note. */
export function VenueForm({ venue, onDone }: { venue?: Venue; onDone: (id: string) => void }) {
  const refresh = useRefreshLines();
  const { busy, error, run } = useOrder();
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const { control, handleSubmit } = useForm<z.input<typeof venueBody>, unknown, VenueBody>({
    resolver: zodResolver(venueBody),
    defaultValues: { name: venue?.name ?? "", timeZone: venue?.timeZone ?? here, note: venue?.note ?? "" },
  });
  const submit = handleSubmit(async (body) => {
    const done = await run(() => send<{ id: string }>(venue ? "PUT" : "POST", venue ? `/venues/${venue.id}` : "/venues", body));
    if (!done) return;
    await refresh();
    onDone(done.id);
  });
  return (
    <>
      <FormField control={control} name="name" label="Name" missing="Give it a name." />
      <FormField control={control} name="timeZone" label="Time zone" hint="Region/City" />
      <FormField control={control} name="note" label="Note" />
      <ProblemNote error={error} />
      <Button look="main" busy={busy} onPress={() => void submit()}>
        {venue ? "Save the venue" : "Add the venue"}
      </Button>
    </>
  );
}
