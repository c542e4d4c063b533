import { LIBRARY_FILE_MOST, type LibraryPreview } from "@ukaza/contract/library";
import { useState } from "react";
import { View } from "react-native";
import { useSWRConfig } from "swr";
import { ApiError, send } from "../../data/api";
import { useOrder } from "../../data/hooks";
import { pickTextFile } from "../../data/pickFile";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { ProblemNote } from "../../ui/Problem";
import { Words } from "../../ui/Words";
import { ChangeList } from "./ChangeList";

const tooLarge = (name: string) =>
  new ApiError({
    type: "urn:ukaza:problem:too-large",
    title: "too large",
    status: 413,
    detail: `the file ${name} has more than ${LIBRARY_FILE_MOST / 1e6} MB; a rule sheet or an encoder is a few pages of text.`,
    mend: "Check that this is the right file.",
  });

/** A rule sheet or an encoder from outside, by file or by link: shown with its differences, then taken or left. */
export function ImportLibrary({ onDone }: { onDone: (kind: LibraryPreview["kind"], id: string) => void }) {
  const { mutate } = useSWRConfig();
  const { busy, error, run, forget } = useOrder();
  const [link, setLink] = useState("");
  const [preview, setPreview] = useState<LibraryPreview | null>(null);
  const look = async (source: () => Promise<object | null>) => {
    setPreview(null);
    const found = await run(async () => {
      const asked = await source();
      return asked && (await send<LibraryPreview>("POST", "/library/preview", asked));
    });
    if (found) setPreview(found);
  };
  const fromFile = () =>
    look(async () => {
      const file = await pickTextFile();
      if (!file) return null;
      if (file.bytes > LIBRARY_FILE_MOST) throw tooLarge(file.name);
      return { text: await file.text() };
    });
  const take = async () => {
    if (!preview) return;
    const done = await run(() => send<{ id: string }>("POST", "/library/take", preview.document));
    if (!done) return;
    await mutate((key) => typeof key === "string" && /^\/(platforms|kit|encoders|events)/.test(key));
    onDone(preview.kind, done.id);
  };
  if (preview) return <Preview preview={preview} busy={busy} error={error} onTake={() => void take()} onLeave={() => setPreview(null)} />;
  return (
    <>
      <Words kind="faded">A file that Ukaza exported, here or elsewhere. Nothing is taken before you have seen what it changes.</Words>
      <Button look="main" busy={busy} onPress={() => void fromFile()}>
        Choose a file
      </Button>
      <Field
        label="Or a link to a file"
        value={link}
        hint="https://files.example/sheet.json"
        onChange={(next) => {
          setLink(next);
          forget();
        }}
      />
      <Button busy={busy} disabled={link.trim() === ""} onPress={() => void look(async () => ({ link: link.trim() }))}>
        Read the link
      </Button>
      <ProblemNote error={error} />
    </>
  );
}

function Preview({
  preview,
  busy,
  error,
  onTake,
  onLeave,
}: {
  preview: LibraryPreview;
  busy: boolean;
  error: ApiError | null;
  onTake: () => void;
  onLeave: () => void;
}) {
  const { name, kind, standing, changes, revision } = preview;
  const what = kind === "sheet" ? "rule sheet" : "encoder";
  return (
    <>
      <Words kind="heading">{name}</Words>
      <Words>
        {standing === "new"
          ? `A ${what} that is not here yet.`
          : standing === "same"
            ? `This ${what} is here already, word for word. There is nothing to take.`
            : `It differs from the ${what} here in ${changes.length === 1 ? "one place" : `${changes.length} places`}.`}
      </Words>
      {changes.length > 0 ? <ChangeList changes={changes} label="What it changes" /> : null}
      {standing === "changed" ? (
        <Words kind="small">
          {kind === "sheet"
            ? `It would become version ${revision}. Events that are planned keep the version they have until you renew them.`
            : "It would take the place of what is here."}
        </Words>
      ) : null}
      <ProblemNote error={error} />
      <View className="flex-row flex-wrap gap-2">
        {standing === "same" ? null : (
          <Button look="main" busy={busy} onPress={onTake}>
            {standing === "new" ? "Take it into the book" : kind === "sheet" ? `Take it as version ${revision}` : "Take the changes"}
          </Button>
        )}
        <Button onPress={onLeave}>{standing === "same" ? "Back" : "Leave it"}</Button>
      </View>
    </>
  );
}
