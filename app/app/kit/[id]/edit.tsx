import { useLocalSearchParams, useRouter } from "expo-router";
import { useEncoder } from "../../../data/hooks";
import { EncoderEditor } from "../../../stages/kit/EncoderEditor";
import { plainEncoder } from "../../../stages/kit/encoderTyped";
import { Loaded } from "../../../ui/Loaded";
import { Shelf } from "../../../ui/Shelf";
import { Words } from "../../../ui/Words";

/** Writes an encoder: one of the list, or ("new") another. One screen, so that the editor is loaded with it alone. */
export default function EditEncoder() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return id === "new" ? <NewEncoder /> : <EditOne />;
}

/** Edits an encoder. */
function EditOne() {
  const { id } = useLocalSearchParams<{ id: string }>();
  const router = useRouter();
  const back = () => router.push(`/kit/${id}`);
  return (
    <Shelf here="Kit" title={false}>
      <Loaded state={useEncoder(id)}>
        {(encoder) => (
          <>
            <Words kind="title">{encoder.name}</Words>
            <EncoderEditor key={id} begin={encoder} held onSaved={back} onLeave={back} />
          </>
        )}
      </Loaded>
    </Shelf>
  );
}

/** An encoder that is not in the list yet, plain or as a copy of one that is. */
function NewEncoder() {
  const { from } = useLocalSearchParams<{ from?: string }>();
  const router = useRouter();
  const copied = useEncoder(from ?? null);
  const saved = (id: string) => router.push(`/kit/${id}`);
  const leave = () => router.push("/kit");
  return (
    <Shelf here="Kit" title={false}>
      <Words kind="title">A new encoder</Words>
      {from ? (
        <Loaded state={copied}>
          {(encoder) => <EncoderEditor key={from} begin={encoder} held={false} onSaved={saved} onLeave={leave} />}
        </Loaded>
      ) : (
        <EncoderEditor begin={plainEncoder} held={false} onSaved={saved} onLeave={leave} />
      )}
    </Shelf>
  );
}
