import type { PathVerdict, Sustainable } from "@ukaza/contract/survey";
import { percent, rateText } from "./units";

const tests = (n: number) => (n === 1 ? "1 test" : `${n} tests`);

/** Why the sustainable rate is what it is, in words. */
export function evidenceSentence(r: Sustainable): string {
  if (r.evidence === "none") {
    return r.total === 0
      ? "Nothing has been measured here yet."
      : "Only lower limits have been measured here; none says what the line really carries.";
  }
  const near = r.allHours
    ? `${tests(r.total)}, only ${r.nearShow} near show time, so all hours count.`
    : `${tests(r.total)}, ${r.nearShow} near show time${r.sameKindOfDay ? `, ${r.used} of them on a ${r.sameKindOfDay}` : ""}.`;
  const bound = rateText(r.sustainableBps ?? 0);
  if (r.evidence === "interval") return `${near} With 95 % certainty, 9 of 10 tests at this hour are above ${bound}.`;
  if (r.evidence === "minimum") return `${near} The slowest of them was ${bound}; 29 tests would allow a smaller reserve.`;
  return `${near} The slowest was ${bound}; with so few, half is kept free.`;
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
