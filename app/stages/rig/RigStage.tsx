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
import { AccountPanel } from "../platforms/AccountPanel";
import { IngestRow } from "./IngestRow";
import { nextInRig } from "./nextInRig";
import { ReadBack } from "./ReadBack";
import { SettingsToType } from "./SettingsToType";
import { TypeIngest } from "./TypeIngest";

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
        // The stages after the fit go by one destination of the plan.
        const chosen = fit?.chosen?.plan.destinations.find((d) => d.destinationId === rig.destinationId)?.settings ?? null;
        const sending = sheet?.facts.sendingAt !== null && sheet !== undefined;
        const next = nextInRig(rig, chosen !== null);
        const act = async () => {
          if (next.go) return router.push(next.go === "code" ? "/kit/code" : `/events/${eventId}/${next.go}`);
          if (next.order) await order(next.order)();
        };
        return (
          <>
            <NextThing sentence={next.sentence}>
              {next.word ? (
                <Button look="main" busy={busy} onPress={() => void act()}>
                  {next.word}
                </Button>
              ) : null}
              <ProblemNote error={error} />
            </NextThing>
            {rig.others.length > 0 ? (
              <Panel title="The other destinations">
                <Words>{`From here on Ukaza looks after ${rig.platformName}. It does not yet rig or watch ${listed(rig.others)}: set those up by hand from the settings sheets.`}</Words>
                <Button className="self-start" onPress={() => router.push(`/settings-sheet/${eventId}`)}>
                  Settings sheets of the encoders
                </Button>
              </Panel>
            ) : null}
            {chosen && (rig.account === "none" || rig.account === "waiting") ? (
              <AccountPanel platformId={rig.platformId} name={rig.platformName} onChange={() => void refresh()} />
            ) : null}
            {sending
              ? null
              : rig.toType.map((asked) => (
                  <TypeIngest
                    key={asked.role}
                    eventId={eventId}
                    asked={asked}
                    platform={rig.platformName}
                    held={rig.ingests.some((i) => i.role === asked.role)}
                    onDone={() => void refresh()}
                  />
                ))}
            {rig.setBy === "by hand" && chosen && rig.ingests.length > 0 ? (
              <SettingsToType settings={chosen} encoder={rig.encoderName} />
            ) : null}
            {rig.ingests.length > 0 ? (
              <Panel title={`Addresses and keys from ${rig.platformName}`}>
                {rig.ingests.map((ingest) => (
                  <IngestRow key={`${ingest.role}${ingest.receivedAt}`} eventId={eventId} ingest={ingest} />
                ))}
                <Words kind="small">Keys are kept encrypted. Showing one is written to the log.</Words>
              </Panel>
            ) : null}
            {rig.setBy === "by hand" && rig.configuredAt && rig.toType.length === 0 ? (
              <Button className="self-start" busy={busy} onPress={() => void order("read-back")()}>
                Read what the platform receives
              </Button>
            ) : null}
            {rig.readBack && rig.readBack.fields.length > 0 ? (
              <ReadBack
                readBack={rig.readBack}
                byHand={rig.setBy === "by hand"}
                busy={busy}
                onAgain={order("read-back")}
                sending={sending}
              />
            ) : null}
          </>
        );
      }}
    </Loaded>
  );
}

/** Names as a sentence lists them. */
const listed = (names: readonly string[]): string =>
  names.length < 2 ? names.join() : `${names.slice(0, -1).join(", ")} and ${names.at(-1)}`;
