import { useLocalSearchParams, useRouter } from "expo-router";
import { useEncoder } from "../../../data/hooks";
import { EncoderEditor } from "../../../stages/kit/EncoderEditor";
import { Loaded } from "../../../ui/Loaded";
import { Shelf } from "../../../ui/Shelf";
import { Words } from "../../../ui/Words";

/** Edits an encoder. */
export default function EditEncoder() {
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
