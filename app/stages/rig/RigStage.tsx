import type { RigNow } from "@ukaza/contract/rig";
import { useRouter } from "expo-router";
import { send } from "../../data/api";
import { useFit, useLineup, useOrder, useRig } from "../../data/hooks";
import { useRefresh } from "../../data/useRefresh";
import { Button } from "../../ui/Button";
import { Loaded } from "../../ui/Loaded";
import { NextThing } from "../../ui/NextThing";
import { Panel } from "../../ui/Panel";
import { ProblemNote } from "../../ui/Problem";
import { Words } from "../../ui/Words";
import { IngestRow } from "./IngestRow";
import { ReadBack } from "./ReadBack";

/** Address and key from the platform into the encoder, and the proof that they arrived. */
export function RigStage({ eventId }: { eventId: string }) {
  const router = useRouter();
  const refresh = useRefresh(eventId);
  const { data: fit } = useFit(eventId);
  const { data: sheet } = useLineup(eventId);
  const { busy, error, run } = useOrder();
  const order = (path: string) => async () => {
    const next = await run(() => send<RigNow>("POST", `/events/${eventId}/rig/${path}`));
    if (next) await refresh();
  };
  return (
    <Loaded state={useRig(eventId)}>
      {(rig) => {
        const chosen = fit?.chosen;
        const sending = sheet?.facts.sendingAt !== null && sheet !== undefined;
        const next = !chosen
          ? { sentence: "No settings have been chosen yet.", word: "Go to Fit", act: async () => router.push(`/events/${eventId}/fit`) }
          : rig.ingests.length === 0
            ? {
                sentence: `Create the broadcast on ${rig.platformName}: it hands out addresses and keys. Nothing is typed, nothing is public.`,
                word: "Create the broadcast",
                act: order("broadcast"),
              }
            : !rig.configuredAt
              ? {
                  sentence: `Give settings, addresses and keys to the ${rig.encoderName.toLowerCase()}.`,
                  word: "Configure the encoder",
                  act: order("configure"),
                }
              : rig.readBack && !rig.readBack.equal
                ? {
                    sentence: "The encoder holds something else than it was told. Configure it again, or see below what differs.",
                    word: "Configure the encoder again",
                    act: order("configure"),
                  }
                : {
                    sentence: "The encoder holds exactly what it was told.",
                    word: "Go to Line-up",
                    act: async () => router.push(`/events/${eventId}/lineup`),
                  };
        return (
          <>
            <NextThing sentence={next.sentence}>
              <Button look="main" busy={busy} onPress={() => void next.act()}>
                {next.word}
              </Button>
              <ProblemNote error={error} />
            </NextThing>
            {rig.ingests.length > 0 ? (
              <Panel title={`Addresses and keys from ${rig.platformName}`}>
                {rig.ingests.map((ingest) => (
                  <IngestRow key={`${ingest.role}${ingest.receivedAt}`} eventId={eventId} ingest={ingest} />
                ))}
                <Words kind="small">Keys are kept encrypted. Showing one is written to the log.</Words>
              </Panel>
            ) : null}
            {rig.readBack && rig.readBack.fields.length > 0 ? (
              <ReadBack readBack={rig.readBack} busy={busy} onAgain={order("read-back")} sending={sending} />
            ) : null}
          </>
        );
      }}
    </Loaded>
  );
}
