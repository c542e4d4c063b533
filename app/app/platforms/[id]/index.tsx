import { Link, useLocalSearchParams, useRouter } from "expo-router";
import { View } from "react-native";
import { useSWRConfig } from "swr";
import { send } from "../../../data/api";
import { download } from "../../../data/download";
import { useOrder, usePlatform, useVersions } from "../../../data/hooks";
import { AccountPanel } from "../../../stages/platforms/AccountPanel";
import { SheetPanel } from "../../../stages/platforms/SheetPanel";
import { VersionList } from "../../../stages/platforms/VersionList";
import { Button } from "../../../ui/Button";
import { Loaded } from "../../../ui/Loaded";
import { ProblemNote } from "../../../ui/Problem";
import { Removal } from "../../../ui/Removal";
import { Shelf } from "../../../ui/Shelf";
import { Words } from "../../../ui/Words";

/** One platform: its rule sheet whole, and every version of it. */
export default function Platform() {
  const { id } = useLocalSearchParams<{ id: string }>();
  const router = useRouter();
  const { mutate } = useSWRConfig();
  const { error, run } = useOrder();
  const versions = useVersions(id);
  const remove = async () => {
    if (!(await run(() => send("DELETE", `/platforms/${id}`)))) return;
    await mutate("/platforms");
    router.replace("/platforms");
  };
  return (
    <Shelf here="Platforms" title={false}>
      <Loaded state={usePlatform(id)}>
        {({ sheet }) => (
          <>
            <View>
              <Link href="/platforms" className="min-h-[32px] py-1 font-words text-base text-deep">
                ← Platforms
              </Link>
              <Words kind="title">{sheet.platform.name}</Words>
            </View>
            <View className="flex-row flex-wrap gap-2">
              <Button look="main" onPress={() => router.push(`/platforms/${id}/edit`)}>
                Edit
              </Button>
              <Button onPress={() => router.push(`/platforms/new/edit?from=${id}`)}>Copy</Button>
              <Button onPress={() => download(`/platforms/${id}/export`)}>Export</Button>
            </View>
            <AccountPanel platformId={id} name={sheet.platform.name} />
            <SheetPanel sheet={sheet} />
            <Loaded state={versions}>
              {(all) => <VersionList versions={all} onEditFrom={(revision) => router.push(`/platforms/${id}/edit?version=${revision}`)} />}
            </Loaded>
            <ProblemNote error={error} />
            <Removal
              word="Remove this platform"
              question="Take this platform out of the book, with all its versions? Only one that no event was ever planned with can go."
              onRemove={() => void remove()}
            />
          </>
        )}
      </Loaded>
    </Shelf>
  );
}
