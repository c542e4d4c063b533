import type { Cause, Decision, EvidenceItem, Health, LogLine, Verdict } from "@ukaza/contract/air";
import { stepTitle } from "./lineup";
import { percent, rateText } from "./units";

const seconds = (n: number) => `${Math.round(n)} s`;

/** One sign of trouble with its figure. */
export function evidenceText(e: EvidenceItem): string {
  const is = e.is ?? 0;
  const limit = e.limit ?? 0;
  const words: Record<EvidenceItem["sign"], string> = {
    "sent-low": `only ${percent(is)} of the target is sent`,
    dropped: `${percent(is, 1)} of frames are dropped`,
    queue: `${(is / 1000).toFixed(1)} s wait in the encoder's queue`,
    "round-trip": `round trip ${Math.round(is)} ms, over ${Math.round(limit)} ms`,
    retransmitted: `${percent(is)} is sent again`,
    keyframe: `a keyframe every ${is.toFixed(1)} s`,
    refused: "the platform refuses the stream",
    "no-picture": "the picture stands still and the sound is gone",
    "not-heard": `nothing heard for ${seconds(is)}`,
    "received-low": `only ${percent(is)} of what is sent arrives`,
    "encoded-low": `only ${percent(is)} of the frames are encoded`,
    "encoder-load": `encoder load ${percent(is)}`,
    "siblings-suffer": "other feeds on this uplink suffer too",
    "siblings-fine": "the feed over the other uplink is steady",
  };
  return words[e.sign];
}

const causeText: Record<Cause, string> = {
  encoder: "The encoder is at fault",
  uplink: "The uplink is at fault",
  platform: "The platform is at fault",
  source: "The source is at fault",
  unknown: "The cause is not clear yet",
};

export function causeSentence(v: { cause: Cause | null; evidence: EvidenceItem[] }): string {
  const signs = v.evidence.map(evidenceText);
  return `${v.cause ? causeText[v.cause] : causeText.unknown}${signs.length > 0 ? `: ${signs.join("; ")}` : ""}.`;
}

/** What to do about a verdict, in one sentence. */
export function adviceSentence(v: Verdict, other: Health | null): string | null {
  if (v.health === "steady") return null;
  if (v.health === "silent") return "Check that the encoder is on and sending; its stop and start buttons are the last resort.";
  if (v.cause === "uplink")
    return other === "steady"
      ? "The other feed is steady: switch to it if this lasts, and ask who else is on the line."
      : "Ask who else is on the line; free it of everything that is not the show.";
  if (v.cause === "encoder") return "Close other programs on the encoder.";
  if (v.cause === "platform") return "Nothing on this side needs restarting; watch the platform's own notices.";
  if (v.cause === "source") return "Check the camera's cable and the mixer's output.";
  return null;
}

const reasonText: Record<Decision["reason"], string> = {
  "main-broken": "the main feed broke",
  "backup-broken": "the backup feed broke",
  "main-steady-again": "the main feed has been steady again",
  "by-hand": "by hand",
  "limit-reached": "too many automatic switches; it stays where it is",
  "no-better-feed": "no other feed is better",
  "return-by-hand": "the main feed has been steady again",
};

export function decisionSentence(d: Decision): string {
  const gap = d.gapS >= 1 ? `, after ${seconds(d.gapS)} without a steady picture` : "";
  if (d.kind === "switch")
    return `Switched from ${d.from} to ${d.to} (${d.reason === "by-hand" ? "by hand" : `auto: ${reasonText[d.reason]}`})${gap}.`;
  if (d.kind === "call") return `Needs you: ${reasonText[d.reason]}${gap}.`;
  return d.reason === "return-by-hand"
    ? "The main feed has been steady for long enough: return to it by hand when it suits."
    : `Advice: switch to ${d.to}, ${reasonText[d.reason]}${gap}.`;
}

/** A line of the log in words. `feedWord` names the feed it speaks of. */
export function logSentence(line: LogLine, feedWord: (feedId: string) => string): string {
  const d = line.data;
  const step = d.step && d.step !== "switch" ? stepTitle[d.step] : "A step";
  const who = line.feedId ? feedWord(line.feedId) : "";
  switch (line.kind) {
    case "health":
      return `${who} is ${d.to}${d.to === "steady" ? (d.from === "silent" ? "." : " again.") : `. ${causeSentence({ cause: d.cause ?? null, evidence: d.evidence ?? [] })}`}`;
    case "switch":
    case "call":
    case "advise":
      return `${d.decision ? decisionSentence(d.decision) : "Switched."}${d.foundOnPlatform ? " Found so on the platform." : ""}`;
    case "step-done":
      return `${step}${d.by === "platform" ? "" : " (crew)"}.`;
    case "step-failed":
      return `${d.step === "switch" ? `Switching to ${d.to}` : step} failed: ${(d.reason ?? "no reason given").replaceAll("-", " ")}.`;
    case "trouble":
      return troubleSentence(d.uplinkId ?? "the line", d.change ?? { kind: "recover" });
    case "server-started-again":
      return `The server started again and picked the event up where it was; ${seconds(d.gapS ?? 0)} went unwatched.`;
    case "driver-lost":
      return `No answer from the ${d.side}: its figures are missing.`;
    case "driver-back":
      return `The ${d.side} answers again, after ${seconds(d.forS ?? 0)}.`;
    case "fit-chosen":
      return "Settings chosen.";
    case "broadcast-created":
      return `Broadcast created on ${d.platform}; addresses and keys received.`;
    case "key-revealed":
      return `The ${d.role} key was revealed.`;
    case "encoder-configured":
      return `${d.encoder} configured.`;
    case "sheet-renewed":
      return `Planned anew with rule sheet ${d.to} of ${d.platform}, which was ${d.from}.`;
    case "kit-out":
      return `${d.encoder} checked out by ${d.text}.`;
    case "kit-in":
      return `${d.encoder} checked in by ${d.text}.`;
    case "read-back":
      return d.equal ? "Read back: the encoder holds exactly what it was told." : `Read back: ${(d.differing ?? []).join(", ")} differ.`;
    case "event-created":
      return "Event created.";
    case "note":
      return d.text === "sending-stopped-before-public" ? "Sending stopped before anything was public." : (d.text ?? "");
  }
}

function troubleSentence(uplinkId: string, change: { kind: string; toBps?: number }): string {
  const what = change.kind === "sink" ? `sunk to ${rateText(change.toBps ?? 0)}` : change.kind === "cut" ? "cut" : "left to recover";
  return `Trouble sheet: ${uplinkId.replaceAll("-", " ")} ${what}.`;
}

export const healthWord: Record<Health, string> = { steady: "Steady", strained: "Strained", broken: "Broken", silent: "Silent" };
