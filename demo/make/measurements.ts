import { TZDate } from "@date-fns/tz";
import { writeCsv } from "@ukaza/core/formats/csv";
import { seeded } from "@ukaza/core/random";
import { type LineModel, lineAtRest, lineStep } from "@ukaza/core/survey/lineModel";

const two = (n: number) => String(n).padStart(2, "0");
const TEST_S = 10;
const WARM_UP_S = 180;

/** Tests of a made-up line on the days before the show: the CSV that a crew would have kept. Local times. */
export function measurementsCsv(model: LineModel, seed: number, today: string, times: readonly string[], days: number): string {
  const random = seeded(seed);
  const [year, month, day] = today.split("-").map(Number) as [number, number, number];
  const rows: (string | number)[][] = [];
  for (let ago = days; ago >= 1; ago--) {
    for (const time of times) {
      const [hour, minute] = time.split(":").map(Number) as [number, number];
      const drift = Math.floor(random() * 9);
      const local = new TZDate(year, month - 1, day - ago, hour, minute + drift, "UTC");
      const minuteOfDay = local.getHours() * 60 + local.getMinutes();
      let state = lineAtRest;
      let sum = 0;
      const lossAndRtt = { lost: 0, rtt: Number.POSITIVE_INFINITY };
      for (let s = 0; s < WARM_UP_S + TEST_S; s++) {
        const next = lineStep(model, state, minuteOfDay, random);
        state = next.state;
        if (s < WARM_UP_S) continue;
        sum += next.second.capacityBps;
        lossAndRtt.lost += next.second.lossRatio;
        lossAndRtt.rtt = Math.min(lossAndRtt.rtt, next.second.rttMs);
      }
      const date = `${local.getFullYear()}-${two(local.getMonth() + 1)}-${two(local.getDate())}`;
      const rtt = lossAndRtt.rtt * (1 + 0.15 * random());
      rows.push([
        `${date} ${two(local.getHours())}:${two(local.getMinutes())}`,
        (sum / TEST_S / 1e6).toFixed(2),
        rtt.toFixed(1),
        (rtt * 0.12 * random()).toFixed(1),
        ((lossAndRtt.lost / TEST_S) * 100).toFixed(3),
      ]);
    }
  }
  return writeCsv(["time", "rate_mbps", "rtt_ms", "jitter_ms", "loss_pct"], rows);
}
