import type { DataBudget, DelayPart, DiskBudget } from "@ukaza/core/fit/budgets";
import { clock, dataText } from "./units";

const partWord: Record<DelayPart["part"], string> = {
  "held frames": "Frames that camera and encoder hold",
  "look-ahead": "Encoder's look-ahead",
  "B-frames": "B-frames",
  "send buffer": "Sender's buffer",
  "SRT latency": "SRT latency",
  "half a round trip": "The way there",
  "preview player": "Preview's player",
  "platform and player": "Platform and player",
  "added delay": "Added delay",
};

export const delayPartText = (p: DelayPart): [string, string] => [partWord[p.part], secondsText(p.ms)];

/** Milliseconds as seconds with a tenth below ten. */
export const secondsText = (ms: number): string => (ms < 1_000 ? `${Math.round(ms)} ms` : `${(ms / 1000).toFixed(ms < 10_000 ? 1 : 0)} s`);

export function dataSentence(d: DataBudget, name: string): string {
  const left = d.leftBytes === null ? "" : ` of ${dataText(d.leftBytes)} left`;
  const price = d.price === null ? "" : `, ${d.price.toFixed(2)} in your currency`;
  return `${name}: ${dataText(d.bytes)}${left}${price}${d.over ? ". It would run out before the end." : "."}`;
}

export function diskSentence(d: DiskBudget): string {
  const split = d.splitEveryS === null ? "" : ` It is split into ${d.files} files, one every ${clock(d.splitEveryS)}.`;
  return `${d.name}: ${dataText(d.bytes)} of ${dataText(d.freeBytes)} free${d.fits ? "." : ": too little."}${split}`;
}
