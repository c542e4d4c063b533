import type { RunSheet, Step } from "@ukaza/contract/lineup";
import { useRouter } from "expo-router";
import { send } from "../../data/api";
import { useLineup, useOrder, useRig } from "../../data/hooks";
import { useRefresh } from "../../data/useRefresh";
import { Button } from "../../ui/Button";
import { HoldButton } from "../../ui/HoldButton";
import { Loaded } from "../../ui/Loaded";
import { NextThing } from "../../ui/NextThing";
import { Panel } from "../../ui/Panel";
import { ProblemNote } from "../../ui/Problem";
import { stepSentence } from "../../words/lineup";
import { StepList } from "./StepList";

/** The steps that belong before and at going public; the rest is Wrap's. */
const isLineup = (step: Step) => step.id !== "end" && step.id !== "stop";

/** The run sheet: what has happened, what is waited for, and the one step that can be taken now. */
export function LineupStage({ eventId }: { eventId: string }) {
  const router = useRouter();
  const refresh = useRefresh(eventId);
  const { data: rig } = useRig(eventId);
  const { busy, error, run } = useOrder();
  const unsend = async () => {
    const next = await run(() => send<RunSheet>("POST", `/events/${eventId}/lineup/unsend`));
    if (next) await refresh();
  };
  return (
    <Loaded state={useLineup(eventId)}>
      {(sheet) => {
        const steps = sheet.steps.filter(isLineup);
        const current = steps.find((s) => s.state !== "done");
        const platform = rig?.platformName ?? "the platform";
        return (
          <>
            <NextThing sentence={sentence(sheet, current, platform)}>
              {!sheet.facts.configured ? (
                <Button look="main" onPress={() => router.push(`/events/${eventId}/rig`)}>
                  Go to Rig
                </Button>
              ) : null}
              {!current ? (
                <Button look="main" onPress={() => router.push(`/events/${eventId}/air`)}>
                  Go to Air
                </Button>
              ) : null}
              <ProblemNote error={error} />
            </NextThing>
            <Panel title="Run sheet">
              <StepList eventId={eventId} steps={steps} facts={sheet.facts} />
            </Panel>
            {sheet.facts.sendingAt !== null && sheet.facts.publicAt === null ? (
              <HoldButton
                warning="The encoder stops sending and every step is taken afresh. Nobody has seen anything yet."
                busy={busy}
                onConfirm={() => void unsend()}
              >
                Stop sending
              </HoldButton>
            ) : null}
          </>
        );
      }}
    </Loaded>
  );
}

function sentence(sheet: RunSheet, current: Step | undefined, platform: string): string {
  if (!sheet.facts.configured) return "The encoder must first hold exactly what it was told.";
  if (!current) return `Public on ${platform}. Watch it on Air.`;
  if (current.state === "ready" && current.actor === "person" && ["receive", "verdict", "preview"].includes(current.id))
    return stepSentence(current, platform);
  switch (current.id) {
    case "send":
      return "Everything is in place. Start sending: nobody sees it yet.";
    case "receive":
      return current.state === "late"
        ? `${platform} has heard nothing for too long: check address, key and the line.`
        : `The encoder sends. ${platform} should hear it in a few seconds.`;
    case "verdict":
      return current.state === "failed"
        ? `${platform} refuses the stream. Stop sending, mend the settings in Fit, and configure again.`
        : `${platform} receives the stream and is judging it.`;
    case "preview":
      return current.state === "late"
        ? "The preview takes longer than it ever should. Look at the platform's own page before restarting anything."
        : "The preview is being made. Waiting is normal.";
    case "watch":
      return "The preview is there. Watch it: picture, sound, the right camera.";
    default:
      return "All is ready. Go public when the show begins.";
  }
}
