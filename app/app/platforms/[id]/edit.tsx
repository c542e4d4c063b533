import { useLocalSearchParams, useRouter } from "expo-router";
import { usePlatform, useSheetVersion } from "../../../data/hooks";
import { SheetEditor } from "../../../stages/platforms/SheetEditor";
import { Loaded } from "../../../ui/Loaded";
import { Shelf } from "../../../ui/Shelf";
import { Words } from "../../../ui/Words";

/** Edits a platform's sheet, from its newest version or from an older one. */
export default function EditSheet() {
  const { id, version } = useLocalSearchParams<{ id: string; version?: string }>();
  const router = useRouter();
  const back = () => router.push(`/platforms/${id}`);
  const listed = usePlatform(id);
  const older = useSheetVersion(id, version ?? null);
  return (
    <Shelf here="Platforms" wide title={false}>
      <Loaded state={listed}>
        {({ sheet }) => (
          <>
            <Words kind="title">{`Rule sheet of ${sheet.platform.name}`}</Words>
            {version ? (
              <Loaded state={older}>
                {(from) => <SheetEditor key={version} begin={from} held={sheet} onSaved={back} onLeave={back} />}
              </Loaded>
            ) : (
              // The editing goes on from the version it began with, whatever is saved elsewhere meanwhile.
              <SheetEditor key={id} begin={sheet} held={sheet} onSaved={back} onLeave={back} />
            )}
          </>
        )}
      </Loaded>
    </Shelf>
  );
}
