import type { EventNow, Stage, StageState } from "@ukaza/contract/event";

export const stageWord: Record<Stage, string> = { survey: "Survey", fit: "Fit", rig: "Rig", lineup: "Line-up", air: "Air", wrap: "Wrap" };
export const stageOrder: readonly Stage[] = ["survey", "fit", "rig", "lineup", "air", "wrap"];

export const stateWord: Record<StageState, string> = {
  "not begun": "not begun",
  "under way": "under way",
  done: "done",
  "needs you": "needs you",
};

/** The one next thing of an event, for the list. */
export function nextSentence(now: EventNow): string {
  if (now.finishedAt) return "Finished. The report is ready.";
  const words: Record<Stage, string> = {
    survey: "Measure the line at the venue.",
    fit: "Choose settings that the line carries.",
    rig: "Get address and key into the encoder.",
    lineup: "Take the run sheet step by step.",
    air: "On air.",
    wrap: "End in the right order.",
  };
  return words[now.next];
}
