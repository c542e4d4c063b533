import { Link, useLocalSearchParams, useRouter } from "expo-router";
import { View } from "react-native";
import { useSWRConfig } from "swr";
import { send } from "../../../data/api";
import { download } from "../../../data/download";
import { useKit, useOrder } from "../../../data/hooks";
import { UsesPanel } from "../../../stages/kit/UsesPanel";
import { Button } from "../../../ui/Button";
import { Loaded } from "../../../ui/Loaded";
import { Panel } from "../../../ui/Panel";
import { ProblemNote } from "../../../ui/Problem";
import { Removal } from "../../../ui/Removal";
import { Row } from "../../../ui/Row";
import { Shelf } from "../../../ui/Shelf";
import { Words } from "../../../ui/Words";
import { encoderFacts } from "../../../words/kit";

/** One encoder: where it is planned and out, and everything it can do. */
export default function EncoderPage() {
  const { id } = useLocalSearchParams<{ id: string }>();
  const router = useRouter();
  const { mutate } = useSWRConfig();
  const { error, run } = useOrder();
  const remove = async () => {
    if (!(await run(() => send("DELETE", `/encoders/${id}`)))) return;
    await mutate("/kit");
    router.replace("/kit");
  };
  return (
    <Shelf here="Kit" title={false}>
      <Loaded state={useKit()}>
        {(kit) => {
          const item = kit.find((k) => k.encoder.id === id);
          if (!item) return <Words kind="faded">There is no such encoder. Open the list of kit.</Words>;
          const { encoder } = item;
          return (
            <>
              <View>
                <Link href="/kit" className="min-h-[32px] py-1 font-words text-base text-deep">
                  ← Kit
                </Link>
                <Words kind="title">{encoder.name}</Words>
                {encoder.note ? <Words kind="faded">{encoder.note}</Words> : null}
              </View>
              <View className="flex-row flex-wrap gap-2">
                <Button look="main" onPress={() => router.push(`/kit/${id}/edit`)}>
                  Edit
                </Button>
                <Button onPress={() => router.push(`/kit/new/edit?from=${id}`)}>Copy</Button>
                <Button onPress={() => download(`/encoders/${id}/export`)}>Export</Button>
              </View>
              <UsesPanel item={item} />
              <Panel title="What it can do">
                <View>
                  {encoderFacts(encoder).map(([label, text]) => (
                    <Row key={label} label={label}>
                      {text}
                    </Row>
                  ))}
                </View>
              </Panel>
              <ProblemNote error={error} />
              <Removal
                word="Remove this encoder"
                question="Take it off the list? Past events keep its name, and it comes back if a file brings it again."
                onRemove={() => void remove()}
              />
            </>
          );
        }}
      </Loaded>
    </Shelf>
  );
}
