import { useLocalSearchParams } from "expo-router";
import { CodePanel } from "../../stages/kit/CodePanel";
import { Shelf } from "../../ui/Shelf";
import { Words } from "../../ui/Words";

/** Where an encoder's code is approved. */
export default function Code() {
  const { code } = useLocalSearchParams<{ code?: string }>();
  return (
    <Shelf here="Kit" title={false}>
      <Words kind="title">Approve a code</Words>
      <CodePanel begin={code ?? ""} />
    </Shelf>
  );
}
