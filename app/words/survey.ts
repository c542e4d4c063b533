import type { Evidence, KindOfDay, PathVerdict, Sustainable } from "@ukaza/contract/survey";
import type { Metered } from "@ukaza/contract/venue";
import { testBytes } from "@ukaza/core/survey/testPlan";
import { clockText, dataText, percent, rateText } from "./units";

export const testsText = (n: number) => (n === 1 ? "1 test" : `${n} tests`);
const moreTests = (n: number) => (n === 1 ? "1 more test" : `${n} more tests`);

/** Evidence in one or two words, for a list. */
export const evidenceWord: Record<Evidence, string> = {
  interval: "well measured",
  minimum: "measured",
  few: "few tests",
  none: "not measured",
};

/** Why the sustainable rate is what it is, in words. */
export function evidenceSentence(r: Sustainable): string {
  if (r.basis === "members")
    return `Worked out from its members: their sustainable rates added, less 5 % for bonding. The least certain of them is ${evidenceWord[r.evidence]}.`;
  if (r.evidence === "none") {
    if (r.total === 0) return "Nothing has been measured here yet.";
    return r.floors > 0
      ? "Only lower limits have been measured here; none says what the line really carries."
      : "Every test here has been excluded; none is left to say what the line carries.";
  }
  const near = r.allHours
    ? `${testsText(r.total)}, only ${r.nearShow} near show time, so all hours count.`
    : `${testsText(r.total)}, ${r.nearShow} near show time${r.sameKindOfDay ? `, ${r.used} of them on a ${r.sameKindOfDay}` : ""}.`;
  const bound = rateText(r.sustainableBps ?? 0);
  if (r.evidence === "interval") return `${near} With 95 % certainty, 9 of 10 tests at this hour are above ${bound}.`;
  if (r.evidence === "minimum") return `${near} The slowest of them was ${bound}.`;
  return `${near} The slowest was ${bound}; with so few, half is kept free.`;
}

export const windowText = ({ fromMinute, untilMinute }: Sustainable["window"]) =>
  untilMinute - fromMinute >= 1440 ? "at any hour" : `between ${clockText(fromMinute)} and ${clockText(untilMinute)}`;

const onKind: Record<KindOfDay, string> = { weekday: "on a weekday", weekend: "at a weekend" };

/** What is missing for the next level of certainty; null: nothing is. */
export function missingSentence(r: Sustainable): string | null {
  const { next } = r;
  if (!next) return null;
  const when = `${windowText(r.window)} ${onKind[next.kindOfDay]}`;
  if (r.evidence === "none") return `${moreTests(next.more)} ${when} give${next.more === 1 ? "s" : ""} a first figure.`;
  if (next.leavesAllHours)
    return `${moreTests(next.more)} ${when} and only tests near show time count${next.reserve === r.ruleReserve ? "" : `, with a reserve of ${percent(next.reserve)}`}.`;
  return `${moreTests(next.more)} ${when} lower${next.more === 1 ? "s" : ""} the reserve from ${percent(r.ruleReserve)} to ${percent(next.reserve)}.`;
}

/** Tests that a person should look at; null: none. */
export function oddSentence(r: Sustainable): string | null {
  const parts = [
    r.outliersLow > 0 ? `${testsText(r.outliersLow)} ${r.outliersLow === 1 ? "lies" : "lie"} far below` : null,
    r.outliersHigh > 0 ? `${testsText(r.outliersHigh)} ${r.outliersHigh === 1 ? "lies" : "lie"} far above` : null,
  ].filter(Boolean);
  if (parts.length === 0) return null;
  const one = r.outliersLow + r.outliersHigh === 1;
  return `${parts.join(" and ")} the others of ${one ? "its" : "their"} hour. ${one ? "It counts" : "They count"}; look at ${one ? "it" : "them"} under Tests, and exclude only for a reason you know.`;
}

/** Which protocol the path favours, and why. */
export function pathSentence(p: PathVerdict): string {
  if (p.why === "unmeasured") return "Round trip or loss has not been measured: either protocol may serve.";
  const measured = `Round trip ${p.rttMs?.toFixed(0)} ms, loss ${percent(p.lossRatio ?? 0, 2)}.`;
  if (p.why === "tcp-capped")
    return `${measured} A single TCP connection would carry only ${rateText(p.rtmpCapBps ?? 0)} (Mathis 1997): SRT serves better here, with ${p.srtLatencyMs} ms latency.`;
  if (p.why === "lossy") return `${measured} So much loss makes TCP stall: SRT serves better, with ${p.srtLatencyMs} ms latency.`;
  return `${measured} Clean enough for RTMP${p.rtmpCapBps ? `, which could carry ${rateText(p.rtmpCapBps)}` : ""}. SRT would want ${p.srtLatencyMs} ms latency.`;
}

/** What a number of tests costs on a metered line: data, price, and what is left. */
export function costSentence(tests: number, rateBps: number, metered: Metered | null): string {
  const bytes = tests * testBytes(rateBps);
  const data = `${tests === 1 ? "A test sends" : `${testsText(tests)} send`} about ${dataText(bytes)} over this line`;
  if (!metered) return `${data}.`;
  const price =
    metered.pricePerGb === null ? "" : `, at ${metered.pricePerGb} per GB that is ${((bytes / 1e9) * metered.pricePerGb).toFixed(2)}`;
  if (metered.allowanceGb === null) return `${data}${price}.`;
  const left = metered.allowanceGb - metered.usedGb;
  const over = bytes / 1e9 > left ? " That is more than is left." : "";
  return `${data}${price}. ${left.toFixed(1)} GB of ${metered.allowanceGb} are left.${over}`;
}
