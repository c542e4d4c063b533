import type { Cause, EvidenceItem, Health, Sample } from "@ukaza/contract/air";
import { mean } from "../stats";
import { sentOf, within } from "./assess";
import { healthRules as rules } from "./healthRules";

/** How the other feeds fare, to tell an uplink's fault from a platform's. */
export interface Siblings {
  sameUplink: Health[];
  samePlatformOtherUplink: Health[];
}

const known = (values: readonly (number | null)[]): number[] => values.filter((v): v is number => v !== null);
const suffers = (h: Health) => h !== "steady";

/**
 * Where the fault of a feed that is not steady lies, with the signs for it.
 * `raised`: what the assessment already found. The order matters: a source without
 * picture and an encoder short of frames are seen before the line is blamed, since both also lower what is sent.
 */
export function causeOf(
  samples: readonly Sample[],
  raised: readonly EvidenceItem[],
  siblings: Siblings,
  nowMs: number,
): { cause: Cause; evidence: EvidenceItem[] } {
  const recent = within(samples, nowMs, rules.windowS);
  const last = recent.at(-1);
  if (!last) return { cause: "unknown", evidence: [] };
  const avg = (pick: (s: Sample) => number | null) => mean(known(recent.map(pick)));
  const queueMs = last.queueMs ?? 0;
  const change = avg((s) => s.pictureChange);
  const audioDb = avg((s) => s.audioDb);
  if (change !== null && audioDb !== null && change < rules.stillBelow && audioDb < rules.soundGoneDb) {
    return { cause: "source", evidence: [{ sign: "no-picture", is: change, limit: rules.stillBelow }] };
  }
  const encoded = avg((s) => (s.framesEncoded === null ? null : s.framesEncoded / s.frameRateHz));
  const load = avg((s) => s.encoderLoad);
  const shortQueue = queueMs < rules.strained.queueMsOver;
  if (shortQueue && encoded !== null && encoded < rules.framesBelow) {
    return { cause: "encoder", evidence: [{ sign: "encoded-low", is: encoded, limit: rules.framesBelow }] };
  }
  if (shortQueue && load !== null && load > rules.encoderLoadOver) {
    return { cause: "encoder", evidence: [{ sign: "encoder-load", is: load, limit: rules.encoderLoadOver }] };
  }
  if (last.platform === "refused") return { cause: "platform", evidence: [{ sign: "refused", is: null, limit: null }] };
  const sent = avg(sentOf);
  const sentShare = sent === null ? null : sent / last.targetBps;
  const received = avg((s) => s.receivedBps);
  const retransmitted = avg((s) => s.retransmittedShare);
  const signs: EvidenceItem[] = raised.filter((e) => e.sign === "round-trip");
  if (queueMs > rules.strained.queueMsOver) signs.push({ sign: "queue", is: queueMs, limit: rules.strained.queueMsOver });
  if (retransmitted !== null && retransmitted > rules.retransmittedOver)
    signs.push({ sign: "retransmitted", is: retransmitted, limit: rules.retransmittedOver });
  if (sentShare !== null && sentShare < rules.strained.sentBelow)
    signs.push({ sign: "sent-low", is: sentShare, limit: rules.strained.sentBelow });
  if (siblings.sameUplink.some(suffers)) signs.push({ sign: "siblings-suffer", is: null, limit: null });
  if (siblings.samePlatformOtherUplink.some((h) => h === "steady")) signs.push({ sign: "siblings-fine", is: null, limit: null });
  if (signs.some((s) => s.sign !== "siblings-fine")) return { cause: "uplink", evidence: signs };
  if (sent !== null && received !== null && received < sent * rules.strained.sentBelow) {
    return { cause: "platform", evidence: [{ sign: "received-low", is: received / sent, limit: rules.strained.sentBelow }] };
  }
  return { cause: "unknown", evidence: signs };
}
