import type { ListedSheet } from "@ukaza/contract/library";
import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import { documentDiff } from "@ukaza/core/formats/documentDiff";
import { useMemo, useRef } from "react";
import { useForm, useWatch } from "react-hook-form";
import { View } from "react-native";
import { useSWRConfig } from "swr";
import { send } from "../../data/api";
import { useOrder } from "../../data/hooks";
import { countFaults, typedResolver } from "../../data/typedForm";
import { useLeaveGuard } from "../../data/useLeaveGuard";
import { Button } from "../../ui/Button";
import { Panel } from "../../ui/Panel";
import { ProblemNote } from "../../ui/Problem";
import { useWide } from "../../ui/useWide";
import { Words } from "../../ui/Words";
import { ChangeList } from "../library/ChangeList";
import { SheetSections } from "./SheetSections";
import { sheetFaults, type TypedSheet, toTypedSheet, typedSheet } from "./sheetTyped";
import { TestBench } from "./TestBench";

const resolver = typedResolver<TypedSheet>(sheetFaults);

/** Today as the sheet's date of checking, by this device's clock. */
const today = () => new Date().toLocaleDateString("en-CA");

interface Props {
  /** What the writing begins from. */
  begin: RuleSheet;
  /** The platform's newest sheet, which the new one takes the place of; null: a platform that is not in the book. */
  held: RuleSheet | null;
  onSaved: (platformId: string) => void;
  onLeave: () => void;
}

/** Writes a rule sheet: the form, the bench beside it, and what has changed. */
export function SheetEditor({ begin, held, onSaved, onLeave }: Props) {
  const wide = useWide();
  const { mutate } = useSWRConfig();
  const { busy, error, run } = useOrder();
  const typed = useMemo(() => {
    const start = toTypedSheet(begin);
    return { ...start, source: { ...start.source, checkedOn: today() }, ...(held ? {} : { platform: { name: "" } }) };
  }, [begin, held]);
  const { control, handleSubmit, formState, trigger } = useForm<TypedSheet>({ resolver, defaultValues: typed, mode: "onChange" });
  const now = useWatch({ control }) as TypedSheet;
  const id = held?.platform.id ?? "new";
  const revision = (held?.revision ?? 0) + 1;
  const sheet = useMemo(() => typedSheet(now, id, revision), [now, id, revision]);
  const last = useRef<RuleSheet | null>(null);
  if (sheet) last.current = sheet;
  const changes = useMemo(
    () => (held && sheet ? documentDiff(held, sheet).filter((c) => c.path !== "source.checkedOn") : []),
    [held, sheet],
  );
  useLeaveGuard(formState.isDirty);
  const faults = countFaults(formState.errors);
  const save = async () => {
    await handleSubmit(async () => {
      if (!sheet) return;
      const path = held ? `/platforms/${id}` : "/platforms";
      const saved = await run(() => send<ListedSheet>(held ? "PUT" : "POST", path, { sheet, from: held?.revision ?? null }));
      if (!saved) return;
      await mutate((key) => typeof key === "string" && /^\/(platforms|events)/.test(key));
      onSaved(saved.sheet.platform.id);
    })();
    await trigger();
  };
  const form = (
    <View className={`gap-3 ${wide ? "min-w-0 flex-[7]" : ""}`}>
      <SheetSections control={control} errors={formState.errors} fresh={held === null} />
      {changes.length > 0 ? (
        <Panel title={`Changes against version ${held?.revision}`}>
          <ChangeList changes={changes} label="Changes against the last version" />
        </Panel>
      ) : null}
      <ProblemNote error={error} />
      {faults > 0 ? (
        <Words tone="text-broken" testID="faults">
          {`${faults === 1 ? "One field keeps" : `${faults} fields keep`} this from being a sheet; they say why.`}
        </Words>
      ) : null}
      <View className="flex-row flex-wrap gap-2">
        <Button look="main" busy={busy} onPress={() => void save()}>
          {held ? `Save as version ${revision}` : "Save the sheet"}
        </Button>
        <Button onPress={onLeave}>{formState.isDirty ? "Leave without saving" : "Back"}</Button>
      </View>
    </View>
  );
  const bench = (
    <View className={wide ? "sticky top-2 max-h-screen min-w-[340px] flex-[4] self-start overflow-y-auto" : ""}>
      <TestBench sheet={last.current} stale={sheet === null} />
    </View>
  );
  return (
    <View className={wide ? "flex-row gap-4" : "gap-4"}>
      {form}
      {bench}
    </View>
  );
}
