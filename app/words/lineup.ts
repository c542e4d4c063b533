import type { Step, StepId } from "@ukaza/contract/lineup";

export const stepTitle: Record<StepId, string> = {
  send: "Encoder sends",
  receive: "Platform receives",
  verdict: "Platform judges the stream",
  preview: "Preview appears",
  watch: "Someone watches the preview",
  public: "Public",
  end: "End on the platform",
  stop: "Stop the encoder",
};

/** What the button of a step says. */
export const stepAction: Partial<Record<StepId, string>> = {
  send: "Start sending",
  receive: "Its page shows that it receives",
  verdict: "Its page finds the stream good",
  preview: "The preview is there",
  watch: "I have watched the preview",
  public: "Go public",
  end: "End the broadcast",
  stop: "Stop the encoder",
};

/** What a step means, and what cannot be undone about it. */
export function stepSentence(step: Step, platform: string): string {
  const byHand = step.actor === "person";
  const words: Record<StepId, string> = {
    send: "Sending is not public: nobody sees it yet.",
    receive: byHand
      ? `Nothing reaches ${platform} from here: look at its own page.`
      : `${platform} must hear the encoder before anything else can happen.`,
    verdict: byHand ? `Does ${platform} complain of the stream on its page?` : `${platform} says what it thinks of the stream.`,
    preview: byHand ? `Open the preview on the page of ${platform}.` : "Waiting here is normal; nothing needs restarting.",
    watch: "Picture, sound, and the right camera: look and listen before viewers do.",
    public: step.irreversible
      ? "Viewers see the stream from this moment. It cannot be taken back, and there is no preview any more."
      : "Viewers see the stream from this moment.",
    end: step.irreversible
      ? "Viewers see the end. It cannot be taken back: this broadcast can never start again."
      : "Viewers see the end. It can be taken up again.",
    stop: "The encoder stops sending on every feed.",
  };
  const freezes =
    step.freezes.length > 0
      ? ` From here on ${step.freezes.map((f) => ({ size: "size", frameRate: "frame rate", codec: "codec", videoBps: "bitrate", audio: "audio", keyframe: "keyframe interval", protocol: "protocol" })[f]).join(", ")} are frozen.`
      : "";
  return words[step.id] + freezes;
}

/** Why the wrap's steps stand in their order. */
export function wrapOrderSentence(endsFirst: "platform" | "encoder", platform: string): string {
  return endsFirst === "platform"
    ? `End on ${platform} first, then stop the encoder: the other way round viewers would see a frozen picture until someone ends it.`
    : `Stop the encoder first: ${platform} ends the broadcast only when nothing arrives any more.`;
}

const reasons: Record<string, string> = {
  "received-low": "it receives less than the stream should have",
};

export const verdictText = (verdict: string | null, reason: string | null): string => {
  if (verdict === null) return "no word yet";
  return reason ? `${verdict}: ${reasons[reason] ?? reason.replaceAll("-", " ")}` : verdict;
};
