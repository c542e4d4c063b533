import type { EncoderDriver, PlatformDriver } from "../drivers/drivers";
import type { Change } from "./change";
import type { Observation } from "./observe";

/** Seconds without an answer after which the log says that a side is not heard. */
const LOST_AFTER = 2;

/** Encoder and platform of one event, asked at the same time each second. */
export class Sides {
  private readonly misses = { encoder: 0, platform: 0 };

  constructor(
    readonly encoder: EncoderDriver,
    readonly platform: PlatformDriver,
    /** An encoder or platform that only a person reaches says nothing of itself: that is no loss. */
    private readonly asks = { encoder: true, platform: true },
  ) {}

  /** What both say now; a side that does not answer is null, and after two misses the log says so. */
  async look(broadcastId: string, change: Change): Promise<Observation> {
    const [encoder, broadcast] = await Promise.all([
      this.asks.encoder ? this.heard("encoder", this.encoder.status(), change) : null,
      this.asks.platform ? this.heard("platform", this.platform.show(broadcastId), change) : null,
    ]);
    return { encoder, broadcast };
  }

  private async heard<T>(side: "encoder" | "platform", ask: Promise<T>, change: Change): Promise<T | null> {
    try {
      const answer = await ask;
      if (this.misses[side] >= LOST_AFTER) change.say("driver-back", "info", { side, forS: this.misses[side] });
      this.misses[side] = 0;
      return answer;
    } catch (error) {
      this.misses[side]++;
      if (this.misses[side] === LOST_AFTER) change.say("driver-lost", "alarm", { side, why: (error as Error).message });
      return null;
    }
  }
}
