import { timeZone as timeZoneSchema } from "@ukaza/contract/units";
import type { Uplink } from "@ukaza/contract/venue";
import type { ReadingAnswers } from "@ukaza/core/formats/fileReading";
import { useEffect, useRef, useState } from "react";
import { View } from "react-native";
import { useOrder } from "../../data/hooks";
import { type PickedFile, pickTextFile } from "../../data/pickFile";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { ProblemNote } from "../../ui/Problem";
import { ProgressBar } from "../../ui/ProgressBar";
import { Words } from "../../ui/Words";
import type { Preview } from "../../workers/importSession";
import { type OpenImport, openImport } from "../../workers/openImport";
import { ImportPreview } from "./ImportPreview";
import { ImportQuestions } from "./ImportQuestions";

const MOST_BYTES = 20_000_000;

/** A file of tests on its way in: chosen, read in a worker, questions answered, previewed, taken. */
export function ImportSheet({
  uplink,
  timeZone,
  onDone,
}: {
  uplink: Uplink;
  timeZone: string;
  onDone: (words: string, importId: string | null) => Promise<void>;
}) {
  const { error, run, forget } = useOrder();
  const [file, setFile] = useState<{ name: string; text: string } | null>(null);
  const [tooLarge, setTooLarge] = useState<PickedFile | null>(null);
  const [answers, setAnswers] = useState<ReadingAnswers>({ timeZone });
  const [zone, setZone] = useState(timeZone);
  const [preview, setPreview] = useState<Preview | null>(null);
  const [progress, setProgress] = useState<{ label: string; share: number } | null>(null);
  const session = useRef<OpenImport | null>(null);
  useEffect(() => () => session.current?.close(), []);
  const zoneWrong = !timeZoneSchema.safeParse(zone.trim()).success;

  const read = async (text: string, given: ReadingAnswers) => {
    session.current ??= openImport(uplink.id);
    setAnswers(given);
    setPreview(null);
    setProgress({ label: "Reading the file", share: 0 });
    const onProgress = (done: number, total: number) =>
      setProgress({ label: "Looking for tests that are here already", share: done / total });
    const found = await run(() => session.current?.read(text, given, onProgress) ?? Promise.reject(new Error("closed")));
    setProgress(null);
    if (found) setPreview(found);
  };
  const choose = async () => {
    const picked = await pickTextFile();
    if (!picked) return;
    forget();
    setTooLarge(picked.bytes > MOST_BYTES ? picked : null);
    if (picked.bytes > MOST_BYTES) return;
    const text = await picked.text();
    setFile({ name: picked.name, text });
    await read(text, answers);
  };
  const take = async () => {
    const importId = `import-${Date.now().toString(36)}`;
    setProgress({ label: "Taking the tests", share: 0 });
    const onProgress = (done: number, total: number) =>
      setProgress({ label: `Taking the tests, ${done} of ${total}`, share: done / total });
    const done = await run(() => session.current?.take(importId, onProgress) ?? Promise.reject(new Error("closed")));
    setProgress(null);
    if (!done) return;
    const known = preview?.counts.known ?? 0;
    await onDone(`${file?.name}: ${done.added} added${known > 0 ? `, ${known} known already` : ""}.`, done.added > 0 ? importId : null);
  };
  return (
    <>
      <Words kind="faded">
        Tables from any program with a time and an upload rate, with commas, semicolons or tabs; runs of iperf3 -J; or an export of ours.
        Nothing is taken before you have seen it.
      </Words>
      <Field
        label="Time zone of times without an offset"
        value={zone}
        onChange={setZone}
        error={zoneWrong ? "This is not the name of a time zone; write it as Region/City." : undefined}
        onBlur={() => {
          if (!zoneWrong && zone.trim() !== answers.timeZone) {
            const given = { ...answers, timeZone: zone.trim() };
            setAnswers(given);
            if (file) void read(file.text, given);
          }
        }}
      />
      <Button look={file ? "plain" : "main"} disabled={zoneWrong || progress !== null} onPress={() => void choose()}>
        {file ? "Choose another file" : "Choose a file"}
      </Button>
      {tooLarge ? (
        <Words tone="text-broken">{`${tooLarge.name} is ${(tooLarge.bytes / 1e6).toFixed(0)} MB; at most 20 MB are read. Split it and import the parts.`}</Words>
      ) : null}
      {progress ? <ProgressBar share={progress.share} label={progress.label} /> : null}
      <ProblemNote error={error} />
      {file && preview && !progress ? (
        <View className="gap-3">
          <Words kind="strong">{file.name}</Words>
          {preview.questions.length > 0 ? (
            <ImportQuestions questions={preview.questions} onAnswer={(more) => void read(file.text, { ...answers, ...more })} />
          ) : (
            <ImportPreview preview={preview} timeZone={answers.timeZone} session={session.current} />
          )}
          {preview.counts.new > 0 ? (
            <Button look="main" onPress={() => void take()}>
              {preview.counts.new === 1 ? "Take the test" : `Take the ${preview.counts.new} tests`}
            </Button>
          ) : null}
        </View>
      ) : null}
    </>
  );
}
