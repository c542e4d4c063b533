import { useLocalSearchParams, useRouter } from "expo-router";
import { useEncoder } from "../../data/hooks";
import { EncoderEditor } from "../../stages/kit/EncoderEditor";
import { plainEncoder } from "../../stages/kit/encoderTyped";
import { Loaded } from "../../ui/Loaded";
import { Shelf } from "../../ui/Shelf";
import { Words } from "../../ui/Words";

/** An encoder that is not in the list yet, plain or as a copy of one that is. */
export default function NewEncoder() {
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
